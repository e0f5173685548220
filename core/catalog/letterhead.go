package catalog

// Letterhead is the shop's name and address for what it prints, and the currency that it
// writes behind amounts.
type Letterhead struct{ Name, Address, Currency string }

// Take reads a row of the settings; other settings change nothing.
func (h *Letterhead) Take(r Row) {
	switch r["setting"] {
	case "name":
		h.Name = r["value"]
	case "address":
		h.Address = r["value"]
	case "currency":
		h.Currency = r["value"]
	}
}
