package driveline

import (
	"fmt"

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
	base := build(d, &State{})
	tests := []HandTest{}
	neutral, lift := map[string]string{}, map[string]string{}
	for _, s := range base.selectors {
		if p := base.part(s.Part); p.Kind == "gearbox" {
			neutral[s.ID] = "N"
		}
	}
	for i := range d.Parts {
		if d.Parts[i].Kind == "wheel" {
			lift[d.Parts[i].ID] = lifted
		}
	}
	with := func(extra map[string]string) map[string]string {
		out := map[string]string{}
		for k, v := range neutral {
			out[k] = v
		}
		for k, v := range extra {
			out[k] = v
		}
		return out
	}
	add := func(h HandTest, watch ...string) error {
		m := build(d, &h.State)
		if m.checkState(&h.State) != nil {
			return nil // a position that this unit doesn't have
		}
		r, err := m.solve()
		if err != nil {
			return err
		}
		for _, b := range r.motion.Binds {
			if b.Cut < 0 {
				h.Expect = append(h.Expect, Expect{Shaft: m.input, Name: m.byID[m.input].name, Words: "does not turn: it is solid"})
				tests = append(tests, h)
				return nil
			}
		}
		for _, id := range watch {
			s := m.byID[id]
			if s == nil {
				continue
			}
			o := r.shaftOut(s, make([]float64, len(r.c.Names())))
			e := Expect{Shaft: id, Name: s.name, Turns: o.Turns, Words: o.Direction}
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
			h.Expect = append(h.Expect, e)
		}
		tests = append(tests, h)
		return nil
	}
	turns := func(shaft string, n int64) *Input {
		return &Input{Shaft: shaft, Turns: exact.Figure{Number: exact.Int(n)}}
	}
	for i := range d.Parts {
		p := &d.Parts[i]
		if p.Kind != "axle" {
			continue
		}
		in := base.outs[p.From]
		if p.From == "" {
			in = p.ID + ".in"
		}
		left, right := endBelow(base, p.ID+".left"), endBelow(base, p.ID+".right")
		name := say.Small(p.name())
		if left == "" || right == "" {
			continue
		}
		stage := "Wheels of the " + name + " off the ground, on stands; gearbox in neutral."
		if d.Lies == Bench {
			stage = "The " + name + " held in a cradle."
		}
		err := add(HandTest{
			Title: "Ratio of the " + name + ": one side held", Setup: []string{stage, "Hold the left side; watch that it does not creep."},
			Turn:  fmt.Sprintf("Turn the %s 10 turns.", base.byID[in].name),
			Tells: "With one side held the other turns twice what both would: half the counted ratio is the classic trap. More or less than this: other gears are in it, or the held side crept.",
			State: State{Input: turns(in, 10), Select: neutral, Wheels: lift, Hold: []string{left}, Engine: "free"},
		}, right, left)
		if err != nil {
			return nil, err
		}
		err = add(HandTest{
			Title: "Differential of the " + name + ": input held", Setup: []string{stage, "Hold the " + base.byID[in].name + "."},
			Turn:  "Turn the left side one turn forward.",
			Tells: "An open differential turns the other side back just as far. If neither turns, it is locked or a spool; if the other follows forward, the input slipped.",
			State: State{Input: turns(left, 1), Select: neutral, Wheels: lift, Hold: []string{in}, Engine: "free"},
		}, left, right)
		if err != nil {
			return nil, err
		}
		if p.Axle.Differential.Type == "locking" {
			err = add(HandTest{
				Title: "Lock of the " + name, Setup: []string{stage, "Engage the axle lock."}, Turn: "Turn the left side one turn forward.",
				Tells: "Both sides have to turn together. If the other side stands or turns back, the lock did not engage.",
				State: State{Input: turns(left, 1), Select: with(map[string]string{p.ID + ".lock": "locked"}), Wheels: lift, Engine: "free"},
			}, right, in)
			if err != nil {
				return nil, err
			}
		}
	}
	if err := caseTests(d, base, lift, with, turns, add); err != nil {
		return nil, err
	}
	if err := boxTests(d, base, lift, turns, add); err != nil {
		return nil, err
	}
	return tests, nil
}

func caseTests(d *Document, base *machine, lift map[string]string, with func(map[string]string) map[string]string, turns func(string, int64) *Input, add func(HandTest, ...string) error) error {
	for i := range d.Parts {
		p := &d.Parts[i]
		if p.Kind != "transfer_case" || p.TransferCase.Front.Type == "none" {
			continue
		}
		name := say.Small(p.name())
		in := base.outs[p.From]
		if p.From == "" {
			in = p.ID + ".in"
		}
		locked := map[string]string{}
		if base.selector(p.ID+".center") != nil {
			locked[p.ID+".center"] = "locked"
		}
		stage := "All wheels off the ground, on stands; gearbox in neutral."
		if d.Lies == Bench {
			stage = "The case on the bench, held."
		}
		for _, rng := range []string{"high", "low"} {
			sel := map[string]string{}
			for k, v := range locked {
				sel[k] = v
			}
			if base.selector(p.ID+".range") != nil {
				sel[p.ID+".range"] = rng
			} else if rng == "low" {
				continue
			}
			err := add(HandTest{
				Title: fmt.Sprintf("%s, %s, locked", say.Capital(name), rng), Setup: []string{stage, "Range " + rng + ", center or front drive locked in."},
				Turn:  fmt.Sprintf("Turn the %s 10 turns.", base.byID[in].name),
				Tells: "Both outputs turn, and the same way. If one stands, the lock or its chain or shaft is at fault; if nothing turns, the range is not engaged.",
				State: State{Input: turns(in, 10), Select: with(sel), Wheels: lift, Engine: "free"},
			}, p.ID+".rear", p.ID+".front")
			if err != nil {
				return err
			}
		}
		if base.selector(p.ID+".center") != nil && p.TransferCase.Center.Type != "part_time" {
			err := add(HandTest{
				Title: "Center differential of the " + name, Setup: []string{stage, "Center open; hold the rear output."},
				Turn:  fmt.Sprintf("Turn the %s 10 turns.", base.byID[in].name),
				Tells: "The free output makes up for the held one. No drive until the center lock is engaged points to the center differential's gears or the shaft beyond.",
				State: State{Input: turns(in, 10), Select: with(map[string]string{p.ID + ".center": "open"}), Wheels: lift, Hold: []string{p.ID + ".rear"}, Engine: "free"},
			}, p.ID+".front", p.ID+".rear")
			if err != nil {
				return err
			}
		}
	}
	return nil
}

// boxTests turn gearboxes and marine gears through, engine stopped, plugs out.
func boxTests(d *Document, base *machine, lift map[string]string, turns func(string, int64) *Input, add func(HandTest, ...string) error) error {
	for _, s := range base.selectors {
		p := base.part(s.Part)
		if p.Kind != "gearbox" && p.Kind != "gearcase" && p.Kind != "reverse_gear" && p.Kind != "upper" {
			continue
		}
		out := base.outs[p.ID]
		if out == "" {
			continue
		}
		watch := []string{out}
		for _, e := range base.ends {
			if e.kind == "propeller" && e.shaft != out {
				watch = append(watch, e.shaft)
			}
		}
		in := base.outs[p.From]
		if p.From == "" {
			in = p.ID + ".in"
		}
		for k, o := range s.Options {
			if p.Kind == "gearbox" && k > 0 && o.Value != "R" && o.Value != "N" {
				continue // one forward gear is enough for a sheet
			}
			turn := fmt.Sprintf("Turn the %s 10 turns the engine's way.", base.byID[in].name)
			tells := "Ten turns in, this many out. A different number is another gear than the lever says; nothing out with a lever set is a shift fault or a sheared shaft."
			if p.Kind == "gearcase" || p.Kind == "upper" {
				turn += " Never the other way: the water-pump impeller is bent for one direction."
				tells = "In neutral the propeller shaft must stand free; in gear it follows with this ratio and direction. Popping or grinding: rounded dogs or a stretched cable."
			}
			err := add(HandTest{
				Title: fmt.Sprintf("%s in %s", p.name(), o.Words), Setup: []string{"Engine off, key out. Lever of the " + say.Small(p.name()) + " at " + o.Words + "."},
				Turn: turn, Tells: tells, State: State{Input: turns(in, 10), Select: map[string]string{s.ID: o.Value}, Wheels: lift, Engine: "free"},
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
