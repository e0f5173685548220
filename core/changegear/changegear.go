// Package changegear works a quick-change final drive: a fixed ring and pinion
// behind a spur pair that is exchanged for each track.
//
//	overall = base · teeth on the pinion shaft ÷ teeth on the input shaft
//	road speed = engine speed · rolling circumference ÷ (gear · overall)
//
// (Gillespie, Fundamentals of Vehicle Dynamics, ch. 2.) Each set is two ratios,
// one each way round; a smaller gear on the input shaft is shorter. Ratios are
// exact, speeds come from them at the end. Gears of one family add up to one
// number of teeth, its center distance.
package changegear

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/driveline/trace"
	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
	"zorvel/core/tire"
)

// Bounds of a question; the contract has the same.
const (
	MaxSets  = 200
	MinTeeth = 8
	MaxTeeth = 100
)

// Set is a pair of change gears as it lies on the shelf.
type Set struct {
	ID     string `json:"id,omitempty"`
	Family string `json:"family,omitempty"` // spline, width and center distance
	Name   string `json:"name"`
	Teeth  [2]int `json:"teeth"` // of the two gears
	Wear   string `json:"wear,omitempty"`
	Place  string `json:"place,omitempty"` // where it lies
	Shelf  int    `json:"shelf,omitempty"` // how many; one if left out
}

// Pair is two change gears as they sit in the housing.
type Pair struct {
	Input  int `json:"input"`  // teeth on the input shaft
	Pinion int `json:"pinion"` // teeth on the pinion shaft
}

func (p Pair) ratio() exact.Number { return exact.New(int64(p.Pinion), int64(p.Input)) }

// Goals of a choice.
const (
	BySpeed = "speed" // reach a speed at an engine speed
	ByExit  = "exit"  // hold an engine speed where the corner ends
	ByStep  = "step"  // one step shorter or taller than what is in it
	ByGear  = "gear"  // stay in one gear between two speeds
)

// Goal is what the choice is for. Speeds are km/h.
type Goal struct {
	Kind   string  `json:"kind"`
	KMH    float64 `json:"kmh,omitempty"`     // speed, exit, gear: the speed; for gear the greatest
	RPM    float64 `json:"rpm,omitempty"`     // speed, exit: the engine speed there; gear: the greatest
	Gear   string  `json:"gear,omitempty"`    // the one-to-one gear if left out
	LowKMH float64 `json:"low_kmh,omitempty"` // gear: the least speed
	LowRPM float64 `json:"low_rpm,omitempty"` // gear: the least engine speed
	Toward string  `json:"toward,omitempty"`  // step: shorter or taller
}

// Gear is a gear of the gearbox where no driveline is given.
type Gear struct {
	Name  string       `json:"name"`
	Ratio exact.Figure `json:"ratio"`
}

// Lies is how the final drive is mounted, where that is not what the driveline
// says.
type Lies struct {
	Mounting string `json:"mounting,omitempty"`  // upright, turned_over or end_for_end
	RingSide string `json:"ring_side,omitempty"` // left or right of the pinion, upright
	PinionAt string `json:"pinion_at,omitempty"` // ahead or behind, upright
	Spin     string `json:"spin,omitempty"`      // of the engine: standard or opposite
	Hypoid   *bool  `json:"hypoid,omitempty"`
}

// Request is the question: a driveline with a change-gear axle, or plain
// figures.
type Request struct {
	Driveline *driveline.Document `json:"driveline,omitempty"`
	Part      string              `json:"part,omitempty"` // the axle; the one with change gears if left out
	Base      exact.Figure        `json:"base,omitzero"`  // ring and pinion alone, where it is not the driveline's
	Gears     []Gear              `json:"gears,omitempty"`
	Tire      tire.Tire           `json:"tire,omitzero"`
	// Growth is how much more a tire rolls at speed than when rolled out, in
	// percent.
	Growth   float64 `json:"growth_percent,omitempty"`
	TorqueNM float64 `json:"torque_nm,omitempty"` // the engine's, for thrust
	// RPM is the engine speed that speeds are told for: the limit, or the peak
	// of power.
	RPM    float64 `json:"rpm,omitempty"`
	Fitted *Pair   `json:"fitted,omitempty"` // counted; the driveline's if left out
	Family string  `json:"family,omitempty"`
	// Sum is the number of teeth that a pair of the family adds up to; found
	// from the shelf if left out.
	Sum     int   `json:"sum,omitempty"`
	Shelf   []Set `json:"shelf,omitempty"`
	UseShop bool  `json:"use_shop,omitempty"` // for who holds the shop's lists; Work takes Shelf as it is
	Goal    *Goal `json:"goal,omitempty"`
	// SpeedUnit is what sentences say speeds in: km/h (if left out) or mph; figures are
	// km/h all the same.
	SpeedUnit string `json:"speed_unit,omitempty"`
	Lies      *Lies  `json:"lies,omitempty"`
}

// Way is one way to make a ratio: a set and which way round.
type Way struct {
	Set    string `json:"set"`
	Name   string `json:"name"`
	Input  int    `json:"input"`
	Pinion int    `json:"pinion"`
	Wear   string `json:"wear,omitempty"`
	Place  string `json:"place,omitempty"`
}

// Rung is an overall ratio that the shelf can build.
type Rung struct {
	Overall exact.Number `json:"overall"`
	Ways    []Way        `json:"ways"`
	// Step is how much taller the next rung is, in percent; absent at the end.
	Step   *float64   `json:"step_percent,omitempty"`
	Gap    bool       `json:"gap,omitempty"` // the step is more than twice the usual one
	Fitted bool       `json:"fitted,omitempty"`
	KMH    *float64   `json:"kmh,omitempty"` // in the gear that counts, at the engine speed asked about
	Gears  []GearLine `json:"gears"`
}

// GearLine is a gear with one rung.
type GearLine struct {
	Gear    string       `json:"gear"`
	Overall exact.Number `json:"overall"`
	KMH     *float64     `json:"kmh,omitempty"`       // at the engine speed asked about
	After   *float64     `json:"after_rpm,omitempty"` // on shifting up into it at that speed
	ThrustN *float64     `json:"thrust_n,omitempty"`
}

// Choice is a rung with what it does.
type Choice struct {
	Rung     int        `json:"rung"` // its place in the ladder
	Title    string     `json:"title"`
	KMH      *float64   `json:"kmh,omitempty"`
	RPMThere *float64   `json:"rpm_there,omitempty"` // at the goal's speed
	Gears    []GearLine `json:"gears"`
}

// Buy is a set that would reach what the shelf does not.
type Buy struct {
	Input   int          `json:"input"`
	Pinion  int          `json:"pinion"`
	Overall exact.Number `json:"overall"`
	Off     float64      `json:"off_percent"`
	Text    string       `json:"text"`
}

// Pick is the answer to a goal.
type Pick struct {
	Sentence string        `json:"sentence"`
	Wanted   *exact.Number `json:"wanted,omitempty"` // overall ratio
	Formula  string        `json:"formula,omitempty"`
	Why      []string      `json:"why"`
	Chosen   *Choice       `json:"chosen,omitempty"`
	Shorter  *Choice       `json:"shorter,omitempty"`
	Taller   *Choice       `json:"taller,omitempty"`
	Missing  string        `json:"missing,omitempty"` // what the shelf does not reach
	Buy      []Buy         `json:"buy"`
}

// Swap is what the fitted pair does the other way round.
type Swap struct {
	Overall exact.Number `json:"overall"`
	Percent float64      `json:"percent"` // of wheel speed at the same engine speed
	Text    string       `json:"text"`
	Head    string       `json:"head"` // the same in a few words
}

// Answer is everything that follows.
type Answer struct {
	Base      exact.Number  `json:"base"`
	BaseWords string        `json:"base_words"`
	Rolling   *exact.Number `json:"rolling_mm,omitempty"` // grown
	Spread    float64       `json:"spread_percent"`
	Gear      string        `json:"gear"` // that speeds are told in
	RPM       float64       `json:"rpm,omitempty"`
	Gears     []string      `json:"gears"`
	Sum       int           `json:"sum,omitempty"`
	Ladder    []Rung        `json:"ladder"`
	Fitted    *Pair         `json:"fitted,omitempty"`
	Overall   *exact.Number `json:"overall,omitempty"` // as it is
	Swap      *Swap         `json:"swap,omitempty"`
	Pick      *Pick         `json:"pick,omitempty"`
	Direction *Direction    `json:"direction,omitempty"`
	Asks      []string      `json:"asks"` // what does not go together and is asked about
	Shafts    string        `json:"shafts"`
	Notes     []string      `json:"notes"`
	Cautions  []string      `json:"cautions"`
	Order     []OrderLine   `json:"order"`
}

var cautions = []string{
	"Ring and pinion are counted by their teeth, or turned at the pinion shaft: turned from the input flange the " +
		"change gears are included, and you get the overall ratio.",
	"Count the gears that come out and those that go in: a remembered count proves nothing, and sets end up in the wrong box.",
	"Cover, gears and oil are hot after a run, and the cover holds oil of its own: a tray below, eyes and hands protected, chocks on, engine off.",
	"Screws into aluminum: the maker's low torque, full thread; behind a guard they are longer.",
	"Turn the drive by hand and watch the wheels before the cover goes on: forward must be forward.",
}

// Work answers a question. Faults are fault.Errors with paths within the
// request.
func Work(q Request) (*Answer, error) {
	if err := fault.Figures(q); err != nil {
		return nil, err
	}
	wanted := ""
	if q.Goal != nil {
		wanted = q.Goal.Gear
	}
	w, err := q.settle(wanted, "goal/gear")
	if err != nil {
		return nil, err
	}
	a := &Answer{
		Base: w.base, BaseWords: w.baseWords, Spread: w.spread, Gears: []string{}, Ladder: []Rung{}, Asks: []string{}, Notes: w.notes, Cautions: cautions,
		Sum: w.sum, RPM: w.q.RPM, Gear: w.gear.name, Fitted: w.fitted, Shafts: w.shafts(),
	}
	if w.rolling.Sign() > 0 {
		a.Rolling = &w.rolling
	}
	for _, g := range w.gears {
		a.Gears = append(a.Gears, g.name)
	}
	a.Ladder = w.ladder()
	if f := w.fitted; f != nil {
		now := w.base.Mul(f.ratio())
		a.Overall = &now
		a.Swap = w.swap(*f)
	}
	a.Asks = append(a.Asks, w.doubts()...)
	if q.Goal != nil {
		if a.Pick, err = w.pick(*q.Goal, a.Ladder); err != nil {
			return nil, err
		}
	}
	if w.lieKnown() {
		if a.Direction, err = w.direction(); err != nil {
			return nil, err
		}
	}
	a.Order = w.orderSheet()
	return a, nil
}

type gear struct {
	name   string
	ratio  exact.Number
	direct bool // locked through: no torque goes through its teeth
}

// work is a question with everything filled in.
type work struct {
	q         Request
	doc       *driveline.Document
	axle      *driveline.Part
	base      exact.Number
	baseWords string
	gears     []gear
	gear      gear // the one that counts
	rolling   exact.Number
	spread    float64
	fitted    *Pair
	sum       int
	shelf     []Set
	coaxial   bool
	notes     []string
}

// settle finds what the question stands on. Speeds are told in the gear that is
// named, which stands at field; the one-to-one gear where none is.
func (q Request) settle(gear, field string) (*work, error) {
	w := &work{q: q, notes: []string{}}
	var errs fault.Errors
	q.check(&errs)
	if len(errs) > 0 {
		return nil, errs
	}
	if g := q.Goal; q.RPM == 0 && g != nil { // speeds are told where the goal is
		w.q.RPM = g.RPM
	}
	if err := w.findAxle(); err != nil {
		return nil, err
	}
	if err := w.findGears(); err != nil {
		return nil, err
	}
	if err := w.findTire(); err != nil {
		return nil, err
	}
	if err := w.chooseGear(strings.TrimSpace(gear), field); err != nil {
		return nil, err
	}
	family := strings.TrimSpace(q.Family)
	if family == "" {
		family = w.axle.Family
	}
	for _, s := range q.Shelf {
		if family == "" || s.Family == "" || strings.EqualFold(strings.TrimSpace(s.Family), family) {
			w.shelf = append(w.shelf, s)
		}
	}
	w.fitted = q.Fitted
	if c := w.axle.Axle.Change; w.fitted == nil && c != nil && c.Input > 0 {
		w.fitted = &Pair{c.Input, c.Pinion}
	}
	w.sum = q.Sum
	if w.sum == 0 {
		w.sum = usualSum(w.shelf)
	}
	return w, nil
}

func (q *Request) check(errs *fault.Errors) {
	teeth := func(field string, n int) {
		if n < MinTeeth || n > MaxTeeth {
			errs.Add(field, "teeth from %d to %d", MinTeeth, MaxTeeth)
		}
	}
	num := func(field string, v, lo, hi float64, unit string) {
		if v != 0 && !(v >= lo && v <= hi) {
			errs.Add(field, "from %v to %v %s", lo, hi, unit)
		}
	}
	if len(q.Shelf) > MaxSets {
		errs.Add("shelf", "at most %d sets", MaxSets)
		return
	}
	for i, s := range q.Shelf {
		for k, n := range s.Teeth {
			teeth(fmt.Sprintf("shelf/%d/teeth/%d", i, k), n)
		}
	}
	if q.Fitted != nil {
		teeth("fitted/input", q.Fitted.Input)
		teeth("fitted/pinion", q.Fitted.Pinion)
	}
	if q.Sum != 0 && (q.Sum < 2*MinTeeth || q.Sum > 2*MaxTeeth) {
		errs.Add("sum", "the two gears together, from %d to %d teeth", 2*MinTeeth, 2*MaxTeeth)
	}
	if b := q.Base; !b.IsZero() && (b.Sign() < 0 || b.Cmp(exact.New(1, 2)) < 0 || b.Cmp(exact.Int(20)) > 0) {
		errs.Add("base", "ring ÷ pinion teeth, from 0.5 to 20")
	}
	num("growth_percent", q.Growth, -5, 15, "%")
	num("torque_nm", q.TorqueNM, 1, 20000, "N·m")
	num("rpm", q.RPM, 500, 25000, "rpm")
	if g := q.Goal; g != nil {
		g.check(errs)
	}
	if u := q.SpeedUnit; u != "" && u != "km/h" && u != "mph" {
		errs.Add("speed_unit", "km/h or mph")
	}
	if l := q.Lies; l != nil {
		for _, f := range []struct {
			name, value string
			of          []string
		}{{"mounting", l.Mounting, []string{"upright", "turned_over", "end_for_end"}}, {"ring_side", l.RingSide, []string{"left", "right"}}, {"pinion_at", l.PinionAt, []string{"ahead", "behind"}}, {"spin", l.Spin, []string{"standard", "opposite"}}} {
			if f.value != "" && !slices.Contains(f.of, f.value) {
				errs.Add("lies/"+f.name, "%s", strings.Join(f.of, ", "))
			}
		}
	}
}

func (g *Goal) check(errs *fault.Errors) {
	need := func(field string, v, lo, hi float64, what string) {
		if !(v >= lo && v <= hi) {
			errs.Add("goal/"+field, "%s, from %v to %v", what, lo, hi)
		}
	}
	switch g.Kind {
	case BySpeed:
		need("kmh", g.KMH, 10, 500, "the speed to reach, in km/h")
		need("rpm", g.RPM, 500, 25000, "the engine speed to reach it at, in rpm")
	case ByExit:
		need("kmh", g.KMH, 5, 500, "the speed at the corner's exit, in km/h")
		need("rpm", g.RPM, 500, 25000, "the engine speed to have there, in rpm")
	case ByGear:
		need("kmh", g.KMH, 10, 500, "the greatest speed, in km/h")
		need("rpm", g.RPM, 500, 25000, "the greatest engine speed, in rpm")
		need("low_kmh", g.LowKMH, 1, g.KMH, "the least speed, in km/h")
		need("low_rpm", g.LowRPM, 300, g.RPM, "the least engine speed that pulls, in rpm")
	case ByStep:
		if g.Toward != "shorter" && g.Toward != "taller" {
			errs.Add("goal/toward", "shorter or taller")
		}
	default:
		errs.Add("goal/kind", "speed, exit, gear or step")
	}
}

// findAxle finds the change-gear axle, or makes one from plain figures.
func (w *work) findAxle() error {
	q := &w.q
	if q.Driveline == nil {
		if q.Base.IsZero() {
			return fault.New("base", "the ratio of ring and pinion is needed, as 4.22 or 38/9; or a driveline")
		}
		box := &driveline.Gearbox{Arrangement: "ratios"}
		for _, g := range q.Gears {
			box.Gears = append(box.Gears, driveline.Gear{Name: g.Name, Ratio: g.Ratio})
		}
		if len(q.Gears) == 0 {
			box.Gears = []driveline.Gear{{Name: "1:1", Direct: true}}
		}
		w.doc = &driveline.Document{Format: driveline.Format, Lies: driveline.Vehicle, Parts: []driveline.Part{
			{ID: "engine", Kind: "engine", Engine: &driveline.Engine{}},
			{ID: "gearbox", Kind: "gearbox", From: "engine", Gearbox: box},
			{ID: "rear", Kind: "axle", Name: "Final drive", From: "gearbox", Axle: &driveline.Axle{Ratio: q.Base, RingSide: "right", Change: &driveline.ChangeGears{}, Differential: driveline.Differential{Type: "spool"}}},
			{ID: "rear_left", Kind: "wheel", From: "rear.left", Wheel: &driveline.Wheel{At: "rear", Side: "left"}},
			{ID: "rear_right", Kind: "wheel", From: "rear.right", Wheel: &driveline.Wheel{At: "rear", Side: "right"}},
		}}
		if err := w.doc.Check(); err != nil {
			return plainFaults(err)
		}
		w.axle = w.doc.Part("rear")
	} else {
		d := *q.Driveline
		d.Parts = slices.Clone(d.Parts)
		w.doc = &d
		var found []*driveline.Part
		for i := range d.Parts {
			if p := &d.Parts[i]; p.Axle != nil && (p.ID == q.Part || q.Part == "" && p.Axle.Change != nil) {
				found = append(found, p)
			}
		}
		switch {
		case len(found) == 0 && q.Part != "":
			return fault.New("part", "the driveline has no axle of this name")
		case len(found) == 0:
			return fault.New("driveline", "no axle of this driveline has change gears; put them in where it is built")
		case len(found) > 1:
			return fault.New("part", "several axles have change gears: say which")
		}
		w.axle = found[0]
		a := *w.axle.Axle
		w.axle.Axle = &a
	}
	a := w.axle.Axle
	switch {
	case !q.Base.IsZero():
		w.base, w.baseWords = q.Base.Number, "as entered"
		a.Ring, a.Pinion, a.Ratio = 0, 0, q.Base
	case a.Ring > 0 && a.Pinion > 0:
		w.base, w.baseWords = exact.New(int64(a.Ring), int64(a.Pinion)), fmt.Sprintf("%d/%d teeth", a.Ring, a.Pinion)
	case !a.Ratio.IsZero():
		w.base, w.baseWords = a.Ratio.Number, "by its ratio"
	default:
		return fault.New("base", "ring and pinion of this axle are not known: count them from its door, or enter the ratio")
	}
	if src := w.axle.Sources["ratio"]; src.Kind != "" {
		w.baseWords += ", " + src.Kind
		if src.Kind == "conflict" {
			w.notes = append(w.notes, "The readings of ring and pinion contradict each other: everything here uses the likelier ratio.")
		}
	}
	if s := a.Second; s != nil && s.Sun > 0 {
		w.base = w.base.Mul(exact.Int(1).Add(exact.New(int64(s.Ring), int64(s.Sun))))
		w.baseWords += fmt.Sprintf(", planetary set %d/%d behind it", s.Ring, s.Sun)
	}
	return nil
}

// plainFaults leads faults of the made document back to the plain fields.
func plainFaults(err error) error {
	list, ok := err.(fault.Errors)
	if !ok {
		return err
	}
	var out fault.Errors
	for _, e := range list {
		at := "gears"
		if f := strings.Split(e.Field, "/"); len(f) > 4 && f[3] == "gears" {
			at = strings.Join(f[3:], "/")
		}
		out.Add(at, "%s", e.Message)
	}
	return out
}

// findGears reads the gears from the driveline with change gears of one to one,
// so that what is left is the gearbox (and range) alone.
func (w *work) findGears() error {
	a := w.axle.Axle
	was := a.Change
	a.Change = &driveline.ChangeGears{Input: 20, Pinion: 20}
	rows, err := trace.GearTable(w.doc.Rear())
	a.Change = was
	if err != nil {
		return err
	}
	direct := map[string]bool{}
	for _, p := range w.doc.Parts {
		if p.Gearbox != nil {
			w.coaxial = w.coaxial || p.Gearbox.Arrangement == "countershaft"
			for _, g := range p.Gearbox.Gears {
				direct[g.Name] = direct[g.Name] || g.Direct
			}
		}
	}
	field := "driveline"
	if w.q.Driveline == nil {
		field = "gears"
	}
	for _, r := range rows {
		if r.Reverse || r.Overall == nil || r.Overall.IsZero() {
			continue
		}
		g := gear{name: strings.TrimSpace(r.Name + " " + r.Range), ratio: r.Overall.Abs().Div(w.base), direct: direct[r.Name]}
		w.gears = append(w.gears, g)
	}
	if len(w.gears) == 0 {
		return fault.New(field, "no forward gear reaches the wheels; its ratios are needed")
	}
	slices.SortStableFunc(w.gears, func(x, y gear) int { return y.ratio.Cmp(x.ratio) })
	return nil
}

// findTire is how far the tires roll, grown as asked.
func (w *work) findTire() error {
	mm, spread := exact.Number{}, 0.0
	if w.q.Tire != (tire.Tire{}) {
		t, err := tire.Work(w.q.Tire)
		if err != nil {
			return fault.Under("tire", err)
		}
		mm, spread = t.RollingMM, t.Spread
	} else {
		for _, e := range w.doc.Axles() {
			if e.ID == w.axle.ID {
				mm, spread = e.RollingMM, 0.5
			}
		}
	}
	if mm.Sign() <= 0 {
		w.notes = append(w.notes, "Without the tire's rolling circumference there are ratios, and no speeds: roll the tire out.")
		if g := w.q.Goal; g != nil && g.Kind != ByStep {
			return fault.New("tire/marking", "the tire is needed for a speed: its marking, or better its rollout")
		}
		return nil
	}
	grown, err := exact.Of(1 + w.q.Growth/100)
	if err != nil {
		return fault.New("growth_percent", "enter a number")
	}
	w.rolling, w.spread = mm.Mul(grown), spread
	return nil
}

// chooseGear is the gear that speeds are told in: the one asked for, else the
// direct one, else the one nearest to one to one.
func (w *work) chooseGear(want, field string) error {
	best := -1
	for i, g := range w.gears {
		if g.name == want || want == "" && g.direct {
			best = i
			break
		}
		if want == "" && (best < 0 || offOne(g.ratio) < offOne(w.gears[best].ratio)) {
			best = i
		}
	}
	if best < 0 {
		var names []string
		for _, g := range w.gears {
			names = append(names, g.name)
		}
		return fault.New(field, "one of the gears: %s", strings.Join(names, ", "))
	}
	w.gear = w.gears[best]
	return nil
}

func offOne(r exact.Number) float64 { return math.Abs(math.Log(r.Float())) }

// usualSum is the number of teeth that most sets add up to, where at least two
// say the same.
func usualSum(sets []Set) int {
	n := map[int]int{}
	for _, s := range sets {
		n[s.Teeth[0]+s.Teeth[1]]++
	}
	best := 0
	for sum, k := range n {
		if k >= 2 && (best == 0 || k > n[best] || k == n[best] && sum < best) {
			best = sum
		}
	}
	return best
}

// kmh is the road speed at an engine speed.
func (w *work) kmh(rpm float64, g gear, overall exact.Number) *float64 {
	if rpm <= 0 || w.rolling.Sign() <= 0 {
		return nil
	}
	v := say.Round(rpm*w.rolling.Float()*60e-6/g.ratio.Mul(overall).Float(), 2)
	return &v
}

// lieKnown reports whether it was said how the unit lies: by the driveline, or
// at least on which side its ring sits.
func (w *work) lieKnown() bool {
	return w.q.Driveline != nil || w.q.Lies != nil && w.q.Lies.RingSide != ""
}
