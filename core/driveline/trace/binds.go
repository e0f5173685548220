package trace

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/driveline/network"
	"zorvel/core/say"
)

func (r *telling) bindOf(shaft int) string {
	for _, b := range r.Motion.Binds {
		if slices.Contains(b.Shafts, shaft) {
			return r.bindWords(b)
		}
	}
	return ""
}

// whyFree says why nothing decides a shaft's speed.
func (r *telling) whyFree(i int, s *driveline.Shaft) string {
	if len(r.Motion.Tied[i]) == 0 {
		return "nothing drives or holds it"
	}
	// Tied through a differential whose carrier is determined?
	for _, e := range r.Machine.Net.Elements {
		if e.Kind != network.Differential && e.Kind != network.Planetary {
			continue
		}
		a, b := e.Left, e.Right
		if e.Kind == network.Planetary {
			a, b = e.Sun, e.Ring
		}
		ia, ib, ic := r.Net.Shaft(a), r.Net.Shaft(b), r.Net.Shaft(e.Carrier)
		if (ia == i || ib == i || slices.Contains(r.Motion.Tied[i], ia)) && r.Motion.State[ia] == network.Free &&
			r.Motion.State[ib] == network.Free &&
			r.Motion.State[ic] != network.Free && ic >= 0 {
			return fmt.Sprintf("the two sides of the %s share its speed; whichever drags less turns more (drawn as if both "+
				"drag alike)", say.Small(r.Machine.Joints[elementIndex(r.Machine, e.ID)].Part.Called()))
		}
	}
	var names []string
	for _, j := range r.Motion.Tied[i] {
		if len(names) == 3 {
			names = append(names, "…")
			break
		}
		if id := r.Net.Names()[j]; r.Machine.ByID[id] != nil {
			names = append(names, r.Machine.ByID[id].Name)
		}
	}
	return "nothing drives it; it turns only together with: " + strings.Join(names, ", ")
}

func elementIndex(m *driveline.Machine, id string) int {
	for i := range m.Net.Elements {
		if m.Net.Elements[i].ID == id {
			return i
		}
	}
	return 0
}

func (r *telling) binds(t *Trace) {
	for _, b := range r.Motion.Binds {
		x := BindOut{Words: r.bindWords(b), Loop: r.loopParts(b), Shafts: []string{}, Held: b.Held, Unknown: len(r.bindUnknown(b)) > 0}
		for _, s := range b.Shafts {
			x.Shafts = append(x.Shafts, r.Net.Names()[s])
		}
		if b.Cut >= 0 {
			x.Cut = r.Machine.Net.Elements[b.Cut].ID
			if !x.Unknown {
				v := b.Mismatch
				f := v.Float() * 100
				x.Mismatch, x.Percent = &v, &f
			}
		}
		t.Binds = append(t.Binds, x)
	}
}

func (r *telling) bindUnknown(b network.Bind) []int {
	var out []int
	for _, e := range b.Elements {
		if k := r.Machine.Joints[e].Unknown; k > 0 {
			out = append(out, k-1)
		}
	}
	return out
}

func (r *telling) loopParts(b network.Bind) []string {
	out := []string{}
	for _, e := range b.Elements {
		if p := r.Machine.Joints[e].Part; p != nil && !slices.Contains(out, p.ID) {
			out = append(out, p.ID)
		}
	}
	return out
}

// bindWords says what contradicts what; the loop is listed beside it.
func (r *telling) bindWords(b network.Bind) string {
	switch unknown := r.bindUnknown(b); {
	case b.Held:
		return "it is turned and held at once, so something between has to slip or nothing moves"
	case b.Cut < 0:
		return "jammed: two ways through the gears with different ratios are engaged at once"
	case len(unknown) > 0:
		return "locked together over the road; whether both ways agree hangs on the " + strings.Join(r.UnknownWords(unknown), ", ")
	}
	f := b.Mismatch.Float() * 100
	e := r.Machine.Net.Elements[b.Cut]
	how := "slower"
	if f > 0 {
		how = "faster"
	}
	who := "the other side"
	if s := r.Machine.ByID[e.B]; s != nil {
		who = s.Name
	}
	by := "the " + r.Machine.Joints[b.Cut].Words
	if e.Kind == network.Lock {
		by = "the lock"
	}
	return fmt.Sprintf("over the road the %s would turn %s %% %s than %s lets it: tires slip that much, or the driveline winds up", who, say.Trim(math.Abs(f), 3), how, by)
}
