package findfault

import (
	"maps"
	"slices"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/driveline/breaks"
	"zorvel/core/say"
)

// Fault is one thing that can be wrong with a unit: something that changes its
// motion, or that is only heard, felt or seen.
type Fault struct {
	ID   string `json:"id"`
	Part string `json:"part"`
	Name string `json:"name"`
	Sort string `json:"sort"`

	does  []breaks.Break     // to the network; none for wear and leaks
	signs map[string]float64 // how often each sign is met with it
	near  []string           // other parts at which its signs show
	// deadSpeedometer is a speedometer that stands whatever turns.
	deadSpeedometer bool
}

// Faults lists everything that can be wrong with a driveline: what changes its
// motion is made from its network, what wears and leaks from its parts. A part
// that it lacks is in none of them.
func Faults(d *driveline.Document) []Fault {
	l := lister{d: d, parts: map[string]*driveline.Part{}}
	for i := range d.Parts {
		l.parts[d.Parts[i].ID] = &d.Parts[i]
	}
	l.breaks()
	for i := range d.Parts {
		l.wear(&d.Parts[i])
	}
	l.whole()
	for i := range l.out {
		f := &l.out[i]
		f.signs = l.with(f, signsOf(f.Sort))
	}
	return l.out
}

// signsOf are the signs of a sort; those of a boat's shifting come from the
// model of its mechanism.
func signsOf(id string) map[string]float64 {
	out := sorts[id].signs
	m := mechanismSigns()[id]
	if len(m) == 0 {
		return out
	}
	all := map[string]float64{}
	for k, v := range out {
		all[k] = v
	}
	for k, v := range m {
		all[k] = max(all[k], v)
	}
	return all
}

// with are a fault's signs with what any break brings that lets go: the engine speeds
// up and nothing pulls, as with a clutch that slips.
func (l *lister) with(f *Fault, signs map[string]float64) map[string]float64 {
	open := slices.ContainsFunc(f.does, func(b breaks.Break) bool { return b.Does == breaks.Open || b.Does == breaks.Stripped })
	if !open || signs["revs"] >= letsGo {
		return signs
	}
	all := maps.Clone(signs)
	if all == nil {
		all = map[string]float64{}
	}
	all["revs"] = letsGo
	return all
}

// letsGo is how often people tell of a racing engine where something has let go.
const letsGo = 0.6

type lister struct {
	d     *driveline.Document
	parts map[string]*driveline.Part
	out   []Fault
}

func (l *lister) add(part, id, sort, name string, near ...string) {
	l.out = append(l.out, Fault{ID: id + " " + part, Part: part, Sort: sort, Name: name, near: near})
}

// breaks are the faults that change the motion, and those that come out alike
// though another thing is broken.
func (l *lister) breaks() {
	ends := 0
	for _, b := range breaks.Of(l.d) {
		near := l.d.ShowsAt(l.parts[b.Part])
		l.out = append(l.out, Fault{ID: b.ID, Part: b.Part, Name: b.Name, Sort: b.Sort, does: []breaks.Break{b}, near: near})
		p := l.parts[b.Part]
		like := func(id, sort, name string) {
			l.out = append(l.out, Fault{ID: id + " " + b.ID, Part: b.Part, Name: name, Sort: sort, does: []breaks.Break{b}, near: near})
		}
		switch {
		case b.Sort == "lock" && p.Has(driveline.Actuated), b.Sort == "dogs" && p.Has(driveline.MovedDogs):
			what := strings.Split(strings.TrimPrefix(b.ID, b.Does+" "+b.Part+"."), " ")
			does := "doesn't engage it"
			if b.Does == breaks.Shut {
				does = "doesn't release it"
			}
			like("actuation", "actuation", driveline.Of(p, strings.Join(what, " ")+" linkage, cable or motor "+does))
		case b.Sort == "mesh" && p.Has(driveline.KeyedGears) && b.Does == breaks.Open:
			like("key", "layshaft_key", "sheared key or loose gear on the countershaft: "+strings.TrimPrefix(b.Name, "broken teeth: "))
		case b.Sort == "hub":
			like("key", "key", driveline.Of(p, "sheared pin or key"))
		case b.Sort == "gears" && b.Does == breaks.Higher:
			if ends++; ends == 2 {
				like("tires", "tires", "tires that roll differently at the "+say.Small(p.Called()))
			}
		}
	}
}

// wear is what wears or leaks at a part and moves as it should.
func (l *lister) wear(p *driveline.Part) {
	name, near := say.Small(p.Called()), l.d.ShowsAt(p)
	add := func(sort, words string) { l.add(p.ID, sort, sort, words, near...) }
	for _, w := range l.d.Wear(p) {
		add(w.Sort, w.Name)
	}
	if p.Has(driveline.Plates) {
		add("plates", "worn "+name+" limited-slip plates")
	}
	if p.Has(driveline.Chained) {
		add("chain_worn", "stretched "+name+" chain")
	}
	if p.BothWays || p.Has(driveline.OneWayGears) {
		add("backward", name+" offset gear put on the wrong way around")
	}
}

// whole are faults of the unit.
func (l *lister) whole() {
	see, err := breaks.See(l.d, driveline.State{})
	if p := l.d.Speedometer(); err == nil && p != nil && slices.Contains(see.Watched(), breaks.Speedometer) {
		l.add(p.ID, "speedometer", "speedometer", "speedometer cable or gears at the "+say.Small(p.Called()))
		l.out[len(l.out)-1].deadSpeedometer = true
	}
}
