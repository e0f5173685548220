package network

import (
	"slices"

	"zorvel/core/exact"
	"zorvel/core/fault"
)

// Report is a solved network for those who bring their own equations:
// textbook problems, planetary gearboxes, test benches.
type Report struct {
	Shafts  []ShaftReport `json:"shafts"`
	Binds   []BindReport  `json:"binds"`
	Starved bool          `json:"starved"`
	// Freedom is how many speeds can still be chosen: the degrees of freedom
	// left by the elements and drives. Relations say how every free shaft
	// follows from those.
	Freedom   int        `json:"freedom"`
	Relations []Relation `json:"relations"`
}

// Relation is what a free shaft keeps to: its speed is Constant plus Σ factor ×
// speed of the named shafts, which are free themselves.
type Relation struct {
	Shaft    string         `json:"shaft"`
	Constant exact.Number   `json:"constant"`
	Terms    []RelationTerm `json:"terms"`
	Words    string         `json:"words"`
}

// RelationTerm is one term of a relation.
type RelationTerm struct {
	Shaft  string       `json:"shaft"`
	Factor exact.Number `json:"factor"`
}

// ShaftReport is one shaft. Speed is absent where nothing determines it, and
// Torque (per unit at the first drive) where the equations leave it open. The
// torque is what the driveline applies to the shaft on its way through (at a
// load or a holder: to what stands there), with its sign: positive in the
// shaft's positive sense, so two outputs that pull opposite ways have opposite
// signs.
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
	if err := fault.Figures(n); err != nil {
		return nil, err
	}
	if len(n.Shafts) > MaxAsked {
		return nil, fault.New("shafts", "at most %d shafts in one question; solve a longer chain in parts", MaxAsked)
	}
	if len(n.Elements) > 2*MaxAsked {
		return nil, fault.New("elements", "at most %d elements in one question; solve a larger network in parts", 2*MaxAsked)
	}
	c, err := Compile(n)
	if err != nil {
		return nil, err
	}
	m := c.Solve(nil)
	q := c.Torque(m, losses)
	r := &Report{Shafts: []ShaftReport{}, Binds: []BindReport{}, Starved: q.Starved}
	r.Freedom, r.Relations = c.relations(m)
	signed := c.signed(m, q)
	for i, name := range c.names {
		s := ShaftReport{Shaft: name, State: m.State[i]}
		if m.State[i] != Free {
			s.Speed = &m.Speed[i]
		}
		if q.Known[i] && !q.Starved {
			s.Torque = &signed[i]
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

// signed puts signs on the shafts' torques.
func (c *Compiled) signed(m Motion, q Torque) []exact.Number {
	out := slices.Clone(q.Shaft)
	fixed := make([]bool, len(out))
	for _, t := range q.Element {
		switch c.net.Elements[t.Element].Kind {
		case Holder: // what it is held against
			out[t.Shaft], fixed[t.Shaft] = t.Torque.Neg(), t.Known
		case Drive:
			out[t.Shaft], fixed[t.Shaft] = t.Torque, t.Known
		}
	}
	for _, l := range q.Load {
		out[l.Shaft], fixed[l.Shaft] = l.Torque, true
	}
	for i := range out {
		if !fixed[i] && m.Speed[i].Sign() < 0 {
			out[i] = out[i].Neg()
		}
	}
	return out
}

// relations expresses every free shaft by the shafts that could be turned by
// hand to set them all.
func (c *Compiled) relations(m Motion) (freedom int, out []Relation) {
	out = []Relation{}
	for i, f := range m.forms {
		switch {
		case f.known():
			continue
		case len(f.free) == 1 && f.free[0].col == i:
			freedom++
			continue
		}
		r := Relation{Shaft: c.names[i], Constant: f.value, Terms: []RelationTerm{}}
		words := ""
		if !f.value.IsZero() {
			words = f.value.String()
		}
		for _, t := range f.free {
			r.Terms = append(r.Terms, RelationTerm{c.names[t.col], t.c})
			sign := " + "
			switch {
			case words == "" && t.c.Sign() < 0:
				sign = "−"
			case words == "":
				sign = ""
			case t.c.Sign() < 0:
				sign = " − "
			}
			words += sign
			if k := t.c.Abs(); !k.Equal(one) {
				words += k.String() + " × "
			}
			words += c.names[t.col]
		}
		r.Words = c.names[i] + " = " + words
		out = append(out, r)
	}
	return freedom, out
}
