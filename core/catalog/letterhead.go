package catalog

// Letterhead is the shop's name and address, as they stand on what it prints.
type Letterhead struct{ Name, Address string }

// Take reads a row of the settings; other settings change nothing.
func (h *Letterhead) Take(r Row) {
	switch r["setting"] {
	case "name":
		h.Name = r["value"]
	case "address":
		h.Address = r["value"]
	}
}
