package breaks

import (
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/driveline/network"
	"zorvel/core/say"
)

// Towed is what turns while a vehicle rolls on some of its wheels, the engine
// standing.
type Towed struct {
	On       string   `json:"on"`    // "rear wheels on the road, front lifted"
	Set      string   `json:"set"`   // levers, as they stand
	Turns    []string `json:"turns"` // parts in which something turns
	NoOil    []string `json:"no_oil"`
	Locked   bool     `json:"locked"` // it does not roll so
	Sentence string   `json:"sentence"`
}

// Tow works out what turns for each way of towing: all wheels down, or one
// end lifted; gearbox, and a transfer case that has it, in neutral. What the
// gearbox's or the transfer case's own input would pump stands still while its
// output turns.
func Tow(d *driveline.Document, breaks []Break) ([]Towed, error) {
	ends := map[string][]string{}
	var at []string
	for _, p := range d.Parts {
		if p.Wheel != nil {
			end := p.Wheel.At
			if end == "" {
				end = "driven"
			}
			if ends[end] == nil {
				at = append(at, end)
			}
			ends[end] = append(ends[end], p.ID)
		}
	}
	if len(at) == 0 {
		return nil, nil
	}
	ways := [][]string{at}
	if len(at) > 1 {
		for _, end := range at {
			ways = append(ways, []string{end})
		}
	}
	var out []Towed
	for _, on := range ways {
		t, err := tow(d, ends, at, on, breaks)
		if err != nil {
			return nil, err
		}
		out = append(out, t)
	}
	return out, nil
}

func tow(d *driveline.Document, ends map[string][]string, all, on []string, breaks []Break) (Towed, error) {
	st := driveline.State{Select: map[string]string{}, Wheels: map[string]string{}, Engine: "stopped"}
	var lifted []string
	for _, end := range all {
		rolls := false
		for _, x := range on {
			rolls = rolls || x == end
		}
		if !rolls {
			lifted = append(lifted, end)
		}
		for _, w := range ends[end] {
			if !rolls {
				st.Wheels[w] = driveline.Lifted
			}
		}
	}
	plain := driveline.Build(d, &driveline.State{})
	var set []string
	for _, s := range plain.Selectors {
		for _, o := range s.Options {
			if o.Neutral && s.Role != driveline.RoleClutch {
				st.Select[s.ID] = o.Value
				set = append(set, say.Small(s.Name)+" in neutral")
			}
		}
	}
	st.Input = &driveline.Input{Shaft: ends[on[0]][0] + ".wheel"}
	m := driveline.Build(d, &st)
	spoil(m, breaks)
	r, err := m.Turning()
	if err != nil {
		return Towed{}, err
	}
	t := Towed{On: strings.Join(on, " and ") + " wheels on the road", Set: strings.Join(set, ", "), Turns: []string{}, NoOil: []string{}}
	if len(lifted) > 0 {
		t.On += ", " + strings.Join(lifted, " and ") + " lifted"
	}
	for _, b := range r.Motion.Binds {
		t.Locked = t.Locked || b.Held || b.Cut < 0
	}
	for i := range d.Parts {
		p := &d.Parts[i]
		traits := p.Traits()
		if traits.Ahead || traits.End != "" {
			continue
		}
		some := false
		for _, sh := range m.Shafts {
			k := r.Net.Shaft(sh.ID)
			some = some || sh.Part == p && k >= 0 && r.Motion.State[k] == network.Driven
		}
		if !some {
			continue
		}
		t.Turns = append(t.Turns, say.Small(p.Called()))
		in := m.InputOf(p)
		if traits.PumpedByInput && in != "" && !drivenShaft(r, in) {
			t.NoOil = append(t.NoOil, say.Small(p.Called()))
		}
	}
	switch {
	case t.Locked:
		t.Sentence = say.Capital(t.On) + ": it does not roll so; lift that end or take its shaft off."
	case len(t.Turns) == 0:
		t.Sentence = say.Capital(t.On) + ": nothing of the driveline turns."
	default:
		t.Sentence = say.Capital(t.On) + ": these turn: " + strings.Join(t.Turns, ", ") + "."
		if len(t.NoOil) > 0 {
			t.Sentence += " The input stands still while the output turns in the " + strings.Join(t.NoOil, " and the ") + ": what is pumped from the input gets no oil."
		}
	}
	return t, nil
}

func drivenShaft(r *driveline.Solved, shaft string) bool {
	i := r.Net.Shaft(shaft)
	return i >= 0 && r.Motion.State[i] == network.Driven
}
