package network

import "zorvel/core/exact"

// Report is a solved network for those who bring their own equations:
// textbook problems, planetary gearboxes, test benches.
type Report struct {
	Shafts  []ShaftReport `json:"shafts"`
	Binds   []BindReport  `json:"binds"`
	Starved bool          `json:"starved"`
}

// ShaftReport is one shaft. Speed is absent where nothing determines it, and
// Torque (per unit at the first drive) where the equations leave it open.
type ShaftReport struct {
	Shaft  string        `json:"shaft"`
	State  State         `json:"state"`
	Speed  *exact.Number `json:"speed,omitempty"`
	Torque *exact.Number `json:"torque,omitempty"`
	Tied   []string      `json:"tied,omitempty"` // a free shaft turns together with these
}

// BindReport is one contradiction.
type BindReport struct {
	Elements []string      `json:"elements"`
	Shafts   []string      `json:"shafts"`
	Cut      string        `json:"cut,omitempty"`
	Mismatch *exact.Number `json:"mismatch,omitempty"`
	Held     bool          `json:"held"`
}

// Answer compiles and solves a network. It returns fault.Errors for one that
// can't be.
func Answer(n Network, losses bool) (*Report, error) {
	c, err := Compile(n)
	if err != nil {
		return nil, err
	}
	m := c.Solve(nil)
	q := c.Torque(m, losses)
	r := &Report{Shafts: []ShaftReport{}, Binds: []BindReport{}, Starved: q.Starved}
	for i, name := range c.names {
		s := ShaftReport{Shaft: name, State: m.State[i]}
		if m.State[i] != Free {
			s.Speed = &m.Speed[i]
		}
		if q.Known[i] && !q.Starved {
			s.Torque = &q.Shaft[i]
		}
		for _, j := range m.Tied[i] {
			s.Tied = append(s.Tied, c.names[j])
		}
		r.Shafts = append(r.Shafts, s)
	}
	for _, b := range m.Binds {
		x := BindReport{Elements: []string{}, Shafts: []string{}, Held: b.Held}
		for _, e := range b.Elements {
			x.Elements = append(x.Elements, n.Elements[e].ID)
		}
		for _, s := range b.Shafts {
			x.Shafts = append(x.Shafts, c.names[s])
		}
		if b.Cut >= 0 {
			x.Cut, x.Mismatch = n.Elements[b.Cut].ID, &b.Mismatch
		}
		r.Binds = append(r.Binds, x)
	}
	return r, nil
}
