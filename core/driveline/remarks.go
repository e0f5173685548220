package driveline

import "fmt"

// Note is a remark: a caution, a fact or something that looks wrong.
type Note struct {
	Kind string `json:"kind"` // caution, wrong, fact
	Part string `json:"part,omitempty"`
	Text string `json:"text"`
}

type adder func(kind string, p *Part, format string, args ...any)

// Remarks are what a mechanic would say of each part in this state.
func (r *Solved) Remarks() []Note {
	var out []Note
	add := func(kind string, p *Part, format string, args ...any) {
		out = append(out, Note{kind, p.ID, fmt.Sprintf(format, args...)})
	}
	for i := range r.Machine.Doc.Parts {
		p := &r.Machine.Doc.Parts[i]
		p.made().remarks(r, p, add)
	}
	return out
}
