// Package breaks breaks a driveline on purpose: it lists what can break in it,
// as changes of its network, says what a hand or a driver sees of each, and
// what turns when it is towed.
package breaks

import (
	"slices"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/driveline/network"
	"zorvel/core/say"
)

// What a break does to the network.
const (
	Open     = "open"    // passes nothing: sheared, stripped, gone, or never engages
	Shut     = "shut"    // a clutch, dog or lock that does not let go
	Seized   = "held"    // seized: a bearing or a brake
	Higher   = "ratio"   // gears of another ratio, numerically higher
	Lower    = "taller"  // gears of another ratio, numerically lower
	Reversed = "reverse" // the ring on the other side, or the unit turned over
	Stripped = "split"   // a spline that turns in its bore: what is behind it is let go
)

// Break is one thing that can be broken, as a change of the driveline's
// network. Its ID is what it does and where.
type Break struct {
	ID   string `json:"id"`
	Part string `json:"part"`
	Does string `json:"does"`
	Name string `json:"name"` // "stripped spline of the rear propeller shaft"
	Sort string `json:"sort"` // for priors: shaft, spline, stub, mesh, chain, spiders, dogs, lock, clutch, drag, planets, brake, gears, turned, hub
	at   string // element, or shaft for held
}

// Of lists every structural break that this driveline can have: a part that
// it lacks is in none of them.
func Of(d *driveline.Document) []Break {
	var out []Break
	seen := map[string]bool{}
	add := func(does, at string, p *driveline.Part, sort, name string) {
		id := does + " " + at
		if !seen[id] {
			seen[id] = true
			out = append(out, Break{ID: id, Part: p.ID, Does: does, Name: name, Sort: sort, at: at})
		}
	}
	// Every element shows in some position of the levers.
	for _, st := range Positions(d) {
		m := driveline.Build(d, &st)
		for k, e := range m.Net.Elements {
			j := m.Joints[k]
			if j.Part == nil {
				continue
			}
			of := " of the " + say.Small(j.Part.Called())
			switch e.Kind {
			case network.Mesh:
				words, _, _ := strings.Cut(j.Words, ",")
				if e.Sense == network.Chain {
					add(Open, e.ID, j.Part, "chain", "chain off or parted"+of)
				} else {
					add(Open, e.ID, j.Part, "mesh", "broken teeth: "+words+of)
				}
				if j.Part.Traits().OtherGears && e.Sense != network.Chain {
					add(Higher, e.ID, j.Part, "gears_inside", "gears of a numerically higher ratio"+of+": "+words)
					add(Lower, e.ID, j.Part, "gears_inside", "gears of a numerically lower ratio"+of+": "+words)
				}
				if strings.HasSuffix(e.ID, ".final") {
					add(Higher, e.ID, j.Part, "gears", "ring and pinion of another ratio"+of)
					add(Reversed, e.ID, j.Part, "turned", "ring on the other side, or turned over:"+strings.TrimPrefix(of, " of"))
				}
			case network.Planetary:
				if strings.HasSuffix(e.ID, ".center") || strings.HasSuffix(e.ID, ".differential") {
					add(Open, e.ID, j.Part, "spiders", "broken gears of the center differential"+of)
				} else {
					add(Open, e.ID, j.Part, "planets", "broken planetary set"+of)
				}
			case network.Differential:
				if j.Solid { // it has none
					continue
				}
				add(Open, e.ID, j.Part, "spiders", "broken spider or side gears"+of)
			case network.Holder:
				if strings.Contains(j.Words, "housing") {
					add(Open, e.ID, j.Part, "planets", "planetary ring that turns in its housing"+of)
				}
			case network.Lock:
				if !j.Solid {
					add(Open, e.ID, j.Part, "lock", "lock that does not engage"+of)
					add(Shut, e.ID, j.Part, "lock", "lock that does not let go"+of)
				}
			case network.Coupling:
				breakCoupling(add, m, e, j, of)
			}
		}
		for i := range d.Parts {
			p := &d.Parts[i]
			if p.Traits().OutputSpline && d.Feeds(p.ID) && m.ByID[m.Outs[p.ID]] != nil {
				add(Stripped, m.Outs[p.ID], p, "spline", "stripped spline at the output of the "+say.Small(p.Called()))
			}
		}
		outside := map[string]bool{m.Root: true, m.Input: true}
		for _, out := range m.Outs {
			outside[out] = true
		}
		for _, sh := range m.Shafts { // inside a housing; what sticks out is told by what hangs on it
			if k := sh.Part; k != nil && !outside[sh.ID] && slices.Contains(k.Traits().Bearings, strings.TrimPrefix(sh.ID, k.ID+".")) {
				add(Seized, sh.ID, k, "seized", "seized bearing: "+say.Small(sh.Name))
			}
		}
		for _, e := range m.Ends {
			if e.Kind == driveline.EndWheel {
				add(Seized, e.Shaft, e.Part, "brake", "seized brake or bearing of the "+say.Small(e.Part.Called()))
			}
		}
	}
	return out
}

func breakCoupling(add func(does, at string, p *driveline.Part, sort, name string), m *driveline.Machine, e network.Element, j driveline.Joint, of string) {
	local := strings.TrimPrefix(e.ID, j.Part.ID+".")
	switch {
	case local == "joint":
		add(Open, e.ID, j.Part, "shaft", "sheared shaft or joint: "+say.Small(j.Part.Called()))
	case local == "half shaft":
		add(Open, e.ID, j.Part, "stub", "sheared half shaft or stub"+of)
	case local == "hub":
		add(Open, e.ID, j.Part, "hub", "slipping hub"+of)
	case local == "clutch":
		add(Open, e.ID, j.Part, "clutch", "slipping or stripped: "+say.Small(j.Part.Called()))
		add(Shut, e.ID, j.Part, "drag", say.Small(j.Part.Called())+" that does not let go")
	case strings.HasPrefix(local, "select "):
		gear := driveline.GearWords(strings.TrimPrefix(local, "select "))
		add(Open, e.ID, j.Part, "dogs", gear+of+": does not engage, or stripped")
		add(Shut, e.ID, j.Part, "dogs", gear+of+": does not let go")
	case local == "main":
		add(Open, e.ID, j.Part, "shaft", "stripped spline of the rear output"+of)
	default:
		name, _, _ := strings.Cut(strings.TrimSuffix(j.Words, " engaged"), ":")
		add(Open, e.ID, j.Part, "dogs", name+of+": does not engage, or stripped")
		add(Shut, e.ID, j.Part, "dogs", name+of+": does not let go")
	}
}

// Positions are states that together show every element: each selector in each
// of its positions, the others at their first.
func Positions(d *driveline.Document) []driveline.State {
	out := []driveline.State{{}}
	m := driveline.Build(d, &driveline.State{})
	for _, s := range m.Selectors {
		for _, o := range s.Options {
			set := map[string]string{s.ID: o.Value}
			for _, n := range o.Needs {
				set[n.Selector] = n.Value
			}
			out = append(out, driveline.State{Select: set})
		}
	}
	return out
}
