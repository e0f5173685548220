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
	s := sheet{d: d, base: build(d, &State{}), neutral: map[string]string{}, lift: map[string]string{}, tests: []HandTest{}}
	for _, l := range s.base.selectors {
		if p := s.base.part(l.Part); p.Kind == "gearbox" {
			s.neutral[l.ID] = "N"
		}
	}
	for i := range d.Parts {
		if d.Parts[i].Kind == "wheel" {
			s.lift[d.Parts[i].ID] = lifted
		}
	}
	for _, kind := range []func() error{s.axleTests, s.caseTests, s.boxTests} {
		if err := kind(); err != nil {
			return nil, err
		}
	}
	return s.tests, nil
}

// sheet is a list of hand tests as it grows.
type sheet struct {
	d             *Document
	base          *machine          // the unit as it starts
	neutral, lift map[string]string // every gearbox in neutral, every wheel lifted
	tests         []HandTest
}

// with is neutral with other levers set.
func (s *sheet) with(set map[string]string) map[string]string {
	out := maps.Clone(s.neutral)
	maps.Copy(out, set)
	return out
}

// turned is an input turned by hand.
func turned(shaft string, n int64) *Input {
	return &Input{Shaft: shaft, Turns: exact.Figure{Number: exact.Int(n)}}
}

// add puts in a test with what the watched shafts do in its state; one for a
// position that this unit doesn't have is left out.
func (s *sheet) add(h HandTest, watch ...string) error {
	m := build(s.d, &h.State)
	if m.checkState(&h.State) != nil {
		return nil
	}
	r, err := m.solve()
	if err != nil {
		return err
	}
	if slices.ContainsFunc(r.motion.Binds, func(b network.Bind) bool { return b.Cut < 0 }) {
		h.Expect = append(h.Expect, Expect{Shaft: m.input, Name: m.byID[m.input].name, Words: "does not turn: it is solid"})
		watch = nil
	}
	for _, id := range watch {
		if sh := m.byID[id]; sh != nil {
			h.Expect = append(h.Expect, expect(r.shaftOut(sh, make([]float64, len(r.c.Names())))))
		}
	}
	s.tests = append(s.tests, h)
	return nil
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

// axleTests hold one side, hold the input, and try the lock of every axle.
func (s *sheet) axleTests() error {
	for i := range s.d.Parts {
		p := &s.d.Parts[i]
		if p.Kind != "axle" {
			continue
		}
		in := s.base.inputOf(p)
		left, right := endBelow(s.base, p.ID+".left"), endBelow(s.base, p.ID+".right")
		name := say.Small(p.name())
		if left == "" || right == "" {
			continue
		}
		stage := "Wheels of the " + name + " off the ground, on stands; gearbox in neutral."
		if s.d.Lies == Bench {
			stage = "The " + name + " held in a cradle."
		}
		err := s.add(HandTest{
			Title: "Ratio of the " + name + ": one side held", Setup: []string{stage, "Hold the left side; watch that it does not creep."},
			Turn:  fmt.Sprintf("Turn the %s 10 turns.", s.base.byID[in].name),
			Tells: "With one side held the other turns twice what both would: half the counted ratio is the classic trap. More or less than this: other gears are in it, or the held side crept.",
			State: State{Input: turned(in, 10), Select: s.neutral, Wheels: s.lift, Hold: []string{left}, Engine: "free"},
		}, right, left)
		if err != nil {
			return err
		}
		err = s.add(HandTest{
			Title: "Differential of the " + name + ": input held", Setup: []string{stage, "Hold the " + s.base.byID[in].name + "."},
			Turn:  "Turn the left side one turn forward.",
			Tells: "An open differential turns the other side back just as far. If neither turns, it is locked or a spool; if the other follows forward, the input slipped.",
			State: State{Input: turned(left, 1), Select: s.neutral, Wheels: s.lift, Hold: []string{in}, Engine: "free"},
		}, left, right)
		if err != nil {
			return err
		}
		if p.Axle.Differential.Type == "locking" {
			err = s.add(HandTest{
				Title: "Lock of the " + name, Setup: []string{stage, "Engage the axle lock."}, Turn: "Turn the left side one turn forward.",
				Tells: "Both sides have to turn together. If the other side stands or turns back, the lock did not engage.",
				State: State{Input: turned(left, 1), Select: s.with(map[string]string{p.ID + ".lock": "locked"}), Wheels: s.lift, Engine: "free"},
			}, right, in)
			if err != nil {
				return err
			}
		}
	}
	return nil
}

// caseTests lock every case in each range, and hold an output of one with a
// center differential.
func (s *sheet) caseTests() error {
	for i := range s.d.Parts {
		p := &s.d.Parts[i]
		if p.Kind != "transfer_case" || p.TransferCase.Front.Type == "none" {
			continue
		}
		name := say.Small(p.name())
		in := s.base.inputOf(p)
		locked := map[string]string{}
		if s.base.selector(p.ID+".center") != nil {
			locked[p.ID+".center"] = "locked"
		}
		stage := "All wheels off the ground, on stands; gearbox in neutral."
		if s.d.Lies == Bench {
			stage = "The case on the bench, held."
		}
		for _, rng := range []string{"high", "low"} {
			sel := map[string]string{}
			for k, v := range locked {
				sel[k] = v
			}
			if s.base.selector(p.ID+".range") != nil {
				sel[p.ID+".range"] = rng
			} else if rng == "low" {
				continue
			}
			err := s.add(HandTest{
				Title: fmt.Sprintf("%s, %s, locked", say.Capital(name), rng), Setup: []string{stage, "Range " + rng + ", center or front drive locked in."},
				Turn:  fmt.Sprintf("Turn the %s 10 turns.", s.base.byID[in].name),
				Tells: "Both outputs turn, and the same way. If one stands, the lock or its chain or shaft is at fault; if nothing turns, the range is not engaged.",
				State: State{Input: turned(in, 10), Select: s.with(sel), Wheels: s.lift, Engine: "free"},
			}, p.ID+".rear", p.ID+".front")
			if err != nil {
				return err
			}
		}
		if s.base.selector(p.ID+".center") != nil && p.TransferCase.Center.Type != "part_time" {
			err := s.add(HandTest{
				Title: "Center differential of the " + name, Setup: []string{stage, "Center open; hold the rear output."},
				Turn:  fmt.Sprintf("Turn the %s 10 turns.", s.base.byID[in].name),
				Tells: "The free output makes up for the held one. No drive until the center lock is engaged points to the center differential's gears or the shaft beyond.",
				State: State{Input: turned(in, 10), Select: s.with(map[string]string{p.ID + ".center": "open"}), Wheels: s.lift, Hold: []string{p.ID + ".rear"}, Engine: "free"},
			}, p.ID+".front", p.ID+".rear")
			if err != nil {
				return err
			}
		}
	}
	return nil
}

// boxTests turn gearboxes and marine gears through, engine stopped, plugs out.
func (s *sheet) boxTests() error {
	for _, l := range s.base.selectors {
		p := s.base.part(l.Part)
		if p.Kind != "gearbox" && p.Kind != "gearcase" && p.Kind != "reverse_gear" && p.Kind != "upper" {
			continue
		}
		out := s.base.outs[p.ID]
		if out == "" {
			continue
		}
		watch := []string{out}
		for _, e := range s.base.ends {
			if e.kind == "propeller" && e.shaft != out {
				watch = append(watch, e.shaft)
			}
		}
		in := s.base.inputOf(p)
		for k, o := range l.Options {
			if p.Kind == "gearbox" && k > 0 && o.Value != "R" && o.Value != "N" {
				continue // one forward gear is enough for a sheet
			}
			turn := fmt.Sprintf("Turn the %s 10 turns the engine's way.", s.base.byID[in].name)
			tells := "Ten turns in, this many out. A different number is another gear than the lever says; nothing out with a lever set is a shift fault or a sheared shaft."
			if p.Kind == "gearcase" || p.Kind == "upper" {
				turn += " Never the other way: the water-pump impeller is bent for one direction."
				tells = "In neutral the propeller shaft must stand free; in gear it follows with this ratio and direction. Popping or grinding: rounded dogs or a stretched cable."
			}
			err := s.add(HandTest{
				Title: fmt.Sprintf("%s in %s", p.name(), o.Words), Setup: []string{"Engine off, key out. Lever of the " + say.Small(p.name()) + " at " + o.Words + "."},
				Turn: turn, Tells: tells, State: State{Input: turned(in, 10), Select: map[string]string{l.ID: o.Value}, Wheels: s.lift, Engine: "free"},
			}, watch...)
			if err != nil {
				return err
			}
		}
	}
	return nil
}

// endBelow is the wheel (or the output itself) behind an output.
func endBelow(m *machine, port string) string {
	for _, p := range m.doc.below(port) {
		if p.Kind == "wheel" {
			return p.ID + ".wheel"
		}
	}
	return m.outs[port]
}
