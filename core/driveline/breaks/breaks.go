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
	Name string `json:"name"` // "stripped spline of the rear driveshaft"
	// for priors: shaft, spline, stub, mesh, chain, spiders, dogs, lock, clutch, drag, planets, brake,
	// gears, turned, hub
	Sort string `json:"sort"`
	at   string // element, or shaft for held
}

// Of lists every structural break that this driveline can have: a part that
// it lacks is in none of them.
func Of(d *driveline.Document) []Break {
	l := list{seen: map[string]bool{}}
	// Every element shows in some position of the levers.
	for _, st := range Positions(d) {
		m := driveline.Build(d, &st)
		for k, e := range m.Net.Elements {
			if j := m.Joints[k]; j.Part != nil {
				l.element(e, j)
			}
		}
		for i := range d.Parts {
			p := &d.Parts[i]
			if p.Traits().OutputSpline && d.Feeds(p.ID) && m.ByID[m.Outs[p.ID]] != nil {
				l.add(Stripped, m.Outs[p.ID], p, "spline", "stripped "+driveline.Of(p, "output spline"))
			}
		}
		l.seized(m)
	}
	return l.breaks
}

// list gathers breaks, each once.
type list struct {
	breaks []Break
	seen   map[string]bool
}

func (l *list) add(does, at string, p *driveline.Part, sort, name string) {
	id := does + " " + at
	if !l.seen[id] {
		l.seen[id] = true
		l.breaks = append(l.breaks, Break{ID: id, Part: p.ID, Does: does, Name: name, Sort: sort, at: at})
	}
}

// element adds what can break in one element.
func (l *list) element(e network.Element, j driveline.Joint) {
	p := j.Part
	switch e.Kind {
	case network.Mesh:
		l.mesh(e, j)
	case network.Planetary:
		if strings.HasSuffix(e.ID, ".center") || strings.HasSuffix(e.ID, ".differential") {
			l.add(Open, e.ID, j.Part, "spiders", "broken "+driveline.Of(p, "center differential gears"))
		} else {
			l.add(Open, e.ID, j.Part, "planets", "broken "+driveline.Of(p, "planetary set"))
		}
	case network.Differential:
		if !j.Solid { // else it has none
			l.add(Open, e.ID, j.Part, "spiders", "broken "+driveline.Of(p, "spider or side gears"))
		}
	case network.Holder:
		if strings.Contains(j.Words, "housing") {
			l.add(Open, e.ID, j.Part, "planets", driveline.Of(p, "planetary ring turning in its housing"))
		}
	case network.Lock:
		if !j.Solid {
			l.add(Open, e.ID, j.Part, "lock", driveline.LockOf(p)+" does not engage")
			l.add(Shut, e.ID, j.Part, "lock", driveline.LockOf(p)+" does not release")
		}
	case network.Coupling:
		l.coupling(e, j)
	}
}

// mesh adds what can break in two gears, or in a chain, and which others could be in there.
func (l *list) mesh(e network.Element, j driveline.Joint) {
	p := j.Part
	words, _, _ := strings.Cut(j.Words, ",")
	if e.Sense == network.Chain {
		l.add(Open, e.ID, j.Part, "chain", driveline.Of(p, "chain off or parted"))
	} else {
		l.add(Open, e.ID, j.Part, "mesh", "broken "+driveline.Of(p, "teeth: "+words))
	}
	if j.Part.Traits().OtherGears && e.Sense != network.Chain {
		l.add(Higher, e.ID, j.Part, "gears_inside", driveline.Of(p, "with numerically higher gears: "+words))
		l.add(Lower, e.ID, j.Part, "gears_inside", driveline.Of(p, "with numerically lower gears: "+words))
	}
	if strings.HasSuffix(e.ID, ".final") {
		l.add(Higher, e.ID, j.Part, "gears", driveline.Of(p, "with another ring and pinion ratio"))
		l.add(Reversed, e.ID, j.Part, "turned", driveline.Of(p, "with the ring gear on the wrong side, or turned over"))
	}
}

// seized adds the bearings and brakes that can seize: inside a housing by the shaft, since what sticks out is told by
// what hangs on it.
func (l *list) seized(m *driveline.Machine) {
	outside := map[string]bool{m.Root: true, m.Input: true}
	for _, out := range m.Outs {
		outside[out] = true
	}
	for _, sh := range m.Shafts {
		if k := sh.Part; k != nil && !outside[sh.ID] &&
			slices.Contains(k.Traits().Bearings, strings.TrimPrefix(sh.ID, k.ID+".")) {
			l.add(Seized, sh.ID, k, "seized", "seized bearing: "+say.Small(sh.Name))
		}
	}
	for _, e := range m.Ends {
		if e.Kind == driveline.EndWheel {
			l.add(Seized, e.Shaft, e.Part, "brake", "seized brake or bearing, "+say.Small(e.Part.Called()))
		}
	}
}

// coupling adds what can break where two shafts are joined: a joint, a clutch, dogs.
func (l *list) coupling(e network.Element, j driveline.Joint) {
	p := j.Part
	local := strings.TrimPrefix(e.ID, p.ID+".")
	switch {
	case local == "joint":
		l.add(Open, e.ID, p, "shaft", "broken "+say.Small(p.Called())+" or joint")
	case local == "half shaft":
		l.add(Open, e.ID, j.Part, "stub", "broken "+driveline.AxleShaft(p)+" or stub shaft")
	case local == "hub":
		l.add(Open, e.ID, j.Part, "hub", driveline.Of(p, "slips"))
	case local == "clutch":
		l.add(Open, e.ID, j.Part, "clutch", driveline.Of(p, "slips or is stripped"))
		l.add(Shut, e.ID, j.Part, "drag", driveline.Of(p, "does not release"))
	case strings.HasPrefix(local, "select "):
		gear := driveline.GearWords(strings.TrimPrefix(local, "select "))
		l.add(Open, e.ID, j.Part, "dogs", driveline.Of(p, gear)+" does not engage, or is stripped")
		l.add(Shut, e.ID, j.Part, "dogs", driveline.Of(p, gear)+" does not release")
	case local == "main":
		l.add(Open, e.ID, j.Part, "shaft", "stripped "+driveline.Of(p, "rear output spline"))
	default:
		name, _, _ := strings.Cut(strings.TrimSuffix(j.Words, " engaged"), ":")
		l.add(Open, e.ID, j.Part, "dogs", driveline.Of(p, name)+" does not engage, or is stripped")
		l.add(Shut, e.ID, j.Part, "dogs", driveline.Of(p, name)+" does not release")
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
