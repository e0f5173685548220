package driveline

import (
	"fmt"
	"maps"
	"slices"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/say"
)

// HandTest is one test by hand, on stands or at the bench.
type HandTest struct {
	Title  string   `json:"title"`
	Setup  []string `json:"setup"`
	Turn   string   `json:"turn"`
	Expect []Expect `json:"expect"`
	Tells  string   `json:"tells"`
	State  State    `json:"state"` // to show it on the trace
}

// Expect is what one shaft should do.
type Expect struct {
	Shaft string        `json:"shaft"`
	Name  string        `json:"name"`
	Turns *exact.Number `json:"turns,omitempty"`
	Words string        `json:"words"`
}

// handTests lists the tests worth doing, with what should turn, how far and
// which way, from the same model.
func handTests(d *Document) ([]HandTest, error) {
	s := Stands{doc: d, base: Build(d, &State{}), lift: d.LiftAll()}
	s.neutral = s.base.Neutrals()
	out := []HandTest{}
	for i := range slices.Backward(kinds) {
		for k := range d.Parts {
			p := &d.Parts[k]
			if p.Kind != kinds[i].name {
				continue
			}
			for _, t := range p.made().trials(&s, p) {
				h, err := s.work(t)
				if err != nil {
					return nil, err
				}
				if h != nil {
					out = append(out, *h)
				}
			}
		}
	}
	return out, nil
}

// Trial is a test by hand before it is worked out: what is watched in its state.
type Trial struct {
	Title string
	Setup []string
	Turn  string
	Tells string
	State State
	Watch []string // shafts
}

// Stands is a unit on stands, with all wheels in the air, or on the bench.
type Stands struct {
	doc           *Document
	base          *Machine          // the unit as it starts
	neutral, lift map[string]string // every gearbox in neutral, every wheel lifted
}

// with is neutral with other levers set.
func (s *Stands) with(set map[string]string) map[string]string {
	out := maps.Clone(s.neutral)
	maps.Copy(out, set)
	return out
}

// turned is an input turned by hand.
func turned(shaft string, n int64) *Input {
	return &Input{Shaft: shaft, Turns: exact.Figure{Number: exact.Int(n)}}
}

// work solves a trial for what its watched shafts do; nil for one in a position
// that this unit doesn't have.
func (s *Stands) work(t Trial) (*HandTest, error) {
	h := &HandTest{Title: t.Title, Setup: t.Setup, Turn: t.Turn, Tells: t.Tells, State: t.State}
	m := Build(s.doc, &h.State)
	if m.CheckState(&h.State) != nil {
		return nil, nil
	}
	r, err := m.Solve()
	if err != nil {
		return nil, err
	}
	if slices.ContainsFunc(r.Motion.Binds, func(b network.Bind) bool { return b.Cut < 0 }) {
		h.Expect = append(h.Expect, Expect{Shaft: m.Input, Name: m.ByID[m.Input].Name, Words: "does not turn: it is solid"})
		return h, nil
	}
	for _, id := range t.Watch {
		if sh := m.ByID[id]; sh != nil {
			h.Expect = append(h.Expect, expect(r.shaftOut(sh, make([]float64, len(r.Net.Names())))))
		}
	}
	return h, nil
}

// expect says what one shaft should do.
func expect(o ShaftOut) Expect {
	e := Expect{Shaft: o.ID, Name: o.Name, Turns: o.Turns, Words: o.Direction}
	switch {
	case o.Turns != nil && !o.Turns.IsZero():
		e.Words = o.Turns.Abs().Short(3) + " turns, " + o.Direction
		if o.Turns.Abs().Equal(one) {
			e.Words = "1 turn, " + o.Direction
		}
	case o.State == "still":
		e.Words = "stands still"
	case o.State == "unknown":
		e.Words = o.Direction + "; how far hangs on what isn't known"
	case o.State == "free":
		e.Words = "may turn or not: nothing ties it"
	}
	return e
}

// What most of those that are turned through say.
const (
	turnWords = "Turn the %s 10 turns the engine's way."
	turnTells = "Ten turns in, this many out. A different number is another gear than the lever says; " +
		"nothing out with a lever set is a shift fault or a sheared shaft."
)

func everyOption(int, SelectorOption) bool { return true }

// turnThrough turns a gearbox or marine gear through in the positions that are
// wanted, engine stopped, plugs out. turn has a place for the input's name.
func (s *Stands) turnThrough(p *Part, turn, tells string, wanted func(int, SelectorOption) bool) []Trial {
	l, end := s.base.Selector(p.ID), s.base.Outs[p.ID]
	if l == nil || end == "" {
		return nil
	}
	watch := []string{end}
	for _, e := range s.base.Ends {
		if e.Kind == EndPropeller && e.Shaft != end {
			watch = append(watch, e.Shaft)
		}
	}
	in := s.base.InputOf(p)
	var out []Trial
	for k, o := range l.Options {
		if !wanted(k, o) {
			continue
		}
		out = append(out, Trial{
			Title: fmt.Sprintf("%s in %s", p.Called(), o.Words),
			Setup: []string{"Engine off, key out. Lever of the " + say.Small(p.Called()) + " at " + o.Words + "."},
			Turn:  fmt.Sprintf(turn, s.base.ByID[in].Name), Tells: tells, Watch: watch,
			State: State{Input: turned(in, 10), Select: map[string]string{l.ID: o.Value}, Wheels: s.lift, Engine: "free"},
		})
	}
	return out
}

// endBelow is the wheel (or the output itself) behind an output.
func endBelow(m *Machine, port string) string {
	for _, p := range m.Doc.Below(port) {
		if p.Wheel != nil {
			return p.ID + ".wheel"
		}
	}
	return m.Outs[port]
}
