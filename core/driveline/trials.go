package driveline

import (
	"fmt"
	"maps"
	"slices"

	"zorvel/core/exact"
)

// Trials lists the tests by hand that are worth doing on a driveline, from its
// ends to its input.
func (d *Document) Trials() []Trial {
	s := Stands{doc: d, base: Build(d, &State{}), lift: d.LiftAll()}
	s.neutral = s.base.Neutrals()
	var out []Trial
	for i := range slices.Backward(kinds) {
		for k := range d.Parts {
			if p := &d.Parts[k]; p.Kind == kinds[i].name {
				out = append(out, p.made().trials(&s, p)...)
			}
		}
	}
	return out
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
			Setup: []string{"Engine off, key out. " + Lever(p, "lever") + " at " + o.Words + "."},
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
