package trace

import (
	"slices"

	"zorvel/core/driveline"
	"zorvel/core/driveline/network"
	"zorvel/core/exact"
)

// HandTest is one test by hand, on stands or at the bench.
type HandTest struct {
	Title  string          `json:"title"`
	Setup  []string        `json:"setup"`
	Turn   string          `json:"turn"`
	Expect []Expect        `json:"expect"`
	Tells  string          `json:"tells"`
	State  driveline.State `json:"state"` // to show it on the trace
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
func handTests(d *driveline.Document) ([]HandTest, error) {
	out := []HandTest{}
	for _, t := range d.Trials() {
		h, err := work(d, t)
		if err != nil {
			return nil, err
		}
		if h != nil {
			out = append(out, *h)
		}
	}
	return out, nil
}

// work solves a trial for what its watched shafts do; nil for one in a position
// that this unit doesn't have.
func work(d *driveline.Document, t driveline.Trial) (*HandTest, error) {
	h := &HandTest{Title: t.Title, Setup: t.Setup, Turn: t.Turn, Tells: t.Tells, State: t.State}
	m := driveline.Build(d, &h.State)
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
			h.Expect = append(h.Expect, expect((&telling{r}).shaftOut(sh, make([]float64, len(r.Net.Names())))))
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
