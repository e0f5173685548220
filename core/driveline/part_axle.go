package driveline

import (
	"fmt"
	"strings"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// Axle is a final drive with its differential.
type Axle struct {
	plain
	Ring     int          `json:"ring,omitempty"`
	Pinion   int          `json:"pinion,omitempty"`
	Ratio    exact.Figure `json:"ratio,omitzero"`      // where the teeth aren't known
	Gears    string       `json:"gears,omitempty"`     // bevel (default) or spur, for a crosswise engine
	RingSide string       `json:"ring_side,omitempty"` // left (default) or right of the pinion, upright
	PinionAt string       `json:"pinion_at,omitempty"` // ahead (default) or behind the axle, upright
	Offset   bool         `json:"hypoid,omitempty"`    // the pinion's axis passes the axle's
	Cut      string       `json:"cut,omitempty"`       // standard (default), reverse or straight
	Second   *SunRing     `json:"second,omitempty"`    // planetary set behind the ring gear
	Change   *ChangeGears `json:"change,omitempty"`    // spur pair ahead of the pinion
	FreeHubs bool         `json:"free_hubs,omitempty"` // wheels can be let go at the hubs
	// Disconnect names the side, left or right, whose half shaft can be let go
	// inside the axle; the differential then passes nothing.
	Disconnect string `json:"disconnect,omitempty"`
	// StubNM is the greatest torque of one stub or joint at its outputs.
	StubNM float64 `json:"stub_nm,omitempty"`

	Differential Differential `json:"differential"`
}

// SunRing is a planetary set: sun driven, ring held, carrier out.
type SunRing struct {
	Sun  int `json:"sun,omitempty"`
	Ring int `json:"ring,omitempty"`
}

// ChangeGears is the exchangeable spur pair of a quick-change final drive.
type ChangeGears struct {
	Input  int `json:"input,omitempty"`  // teeth on the input shaft
	Pinion int `json:"pinion,omitempty"` // teeth on the pinion shaft
}

func (a *Axle) check(_ *Part, at string, errs *fault.Errors) {
	pair(errs, at, "ring", "pinion", a.Ring, a.Pinion)
	if a.Ring > 0 && a.Ring < a.Pinion {
		errs.Add(at+"ring", "a ring of %d teeth has fewer than its pinion of %d: are the two swapped?", a.Ring, a.Pinion)
	}
	ratioRange(errs, at+"ratio", a.Ratio, false)
	oneOf(errs, at+"gears", &a.Gears, "bevel", "spur")
	oneOf(errs, at+"ring_side", &a.RingSide, "left", "right")
	oneOf(errs, at+"pinion_at", &a.PinionAt, "ahead", "behind")
	oneOf(errs, at+"cut", &a.Cut, "standard", "reverse", "straight")
	if s := a.Second; s != nil {
		pair(errs, at+"second/", "sun", "ring", s.Sun, s.Ring)
	}
	if c := a.Change; c != nil {
		pair(errs, at+"change/", "input", "pinion", c.Input, c.Pinion)
	}
	if a.Disconnect != "" {
		oneOf(errs, at+"disconnect", &a.Disconnect, "left", "right")
	}
	if a.Disconnect != "" && a.FreeHubs {
		errs.Add(at+"disconnect", "the wheels are let go at the hubs already; one of the two")
	}
	if !(a.StubNM >= 0 && a.StubNM <= 1e6) {
		errs.Add(at+"stub_nm", "from 0 to 1,000,000 N·m")
	}
	a.Differential.checkAs(at+"differential/", errs, "open", "limited_slip", "locking", "spool")
}

func (a *Axle) ports() []string { return []string{"left", "right"} }

func (a *Axle) ratios() []string {
	if a.Change != nil {
		return []string{"ratio", "change"}
	}
	return []string{"ratio"}
}

func (a *Axle) known(ratio string) bool {
	if ratio == "change" {
		return a.Change != nil && a.Change.Input > 0
	}
	without := *a
	without.Change = nil
	_, ok := without.ratio()
	return ok
}

func (a *Axle) asks() []measure {
	own := measure{ratio: "ratio", kind: "ring_and_pinion", also: []string{"ring_and_pinion", "two_stage"}}
	if a.Second != nil {
		own.kind = "two_stage"
	}
	if a.Change == nil {
		return []measure{own}
	}
	return []measure{own, {ratio: "change", words: "change gears", kind: "gear_pair"}}
}

func (a *Axle) take(p *Part, ratio string, m Measured) {
	c, z := *a, m.Teeth
	if ratio == "change" {
		// Only counted teeth make a pair; a ratio alone is no set.
		c.Change = &ChangeGears{Input: z["drive"], Pinion: z["driven"]}
		p.Axle = &c
		return
	}
	c.Ring, c.Pinion, c.Ratio = z["ring"], z["pinion"], exact.Figure{}
	switch m.Construction {
	case "pair":
		c.Second = nil
	case "pair_planetary":
		c.Second = &SunRing{z["sun"], z["planet_ring"]}
	default:
		c.Ring, c.Pinion, c.Ratio, c.Second = 0, 0, exact.Figure{Number: m.Ratio}, nil
	}
	p.Axle = &c
}

func (a *Axle) blank(p *Part) {
	c := *a
	c.Ring, c.Pinion, c.Ratio = 0, 0, exact.Figure{}
	if c.Second != nil {
		c.Second = &SunRing{}
	}
	if c.Change != nil {
		c.Change = &ChangeGears{}
	}
	p.Axle = &c
}

func (a *Axle) expand(m *Machine, p *Part, in string, _ Axis, whole bool) {
	pinion := in
	if c := a.Change; c != nil {
		pinion = m.add(p, "pinion", Of(p, "pinion shaft"), m.ByID[in].Axis)
		m.gears(p, "change", "change", in, pinion, c.Input, c.Pinion, exact.Number{}, network.External,
			pairWords("change gear on the pinion shaft", c.Pinion, "change gear on the input shaft", c.Input, "direction reversed"))
	}
	ring := m.add(p, "ring", Of(p, "ring gear"), Crosswise)
	if whole {
		words := pairWords("ring gear", a.Ring, "pinion", a.Pinion, "")
		sense := network.External
		if a.Gears != "spur" {
			sense = m.bevelSense(p)
			where := fmt.Sprintf("ring on the %s, pinion %s", m.side(p), m.ahead(p))
			words += ", " + where
		}
		m.gears(p, "final", "ratio", pinion, ring, a.Pinion, a.Ring, a.Ratio.Number, sense, words)
	}
	carrier := ring
	if s := a.Second; s != nil {
		carrier = m.add(p, "carrier", Of(p, "differential carrier"), Crosswise)
		still := m.add(p, "planet ring", Of(p, "planetary ring"), Crosswise)
		m.Element(p, network.Element{ID: p.ID + ".planet ring held", Kind: network.Holder, Shaft: still},
			Joint{Words: "ring held by the housing"})
		m.planets(p, "second", "second", ring, still, carrier, s.Sun, s.Ring, false, fmt.Sprintf("second stage: sun %s driven, ring %s held", count(s.Sun), count(s.Ring)))
	}
	left := m.add(p, "left", Of(p, "left output"), Crosswise)
	right := m.add(p, "right", Of(p, "right output"), Crosswise)
	m.split(p, "differential", left, right, carrier)
	m.Joints[len(m.Joints)-1].Solid = a.Differential.Type == "spool"
	switch a.Differential.Type {
	case "spool":
		m.couple(p, network.Lock, "lock", left, carrier, whole, "spool: both sides solid with the carrier")
		m.Joints[len(m.Joints)-1].Solid = true
	case "locking":
		v := m.choose(p, RoleLock, "lock", Lever(p, "locker"),
			SelectorOption{Value: "open", Words: "open"}, SelectorOption{Value: "locked", Words: "locked"})
		m.couple(p, network.Lock, "lock", left, carrier, v == "locked" && whole, "locker engaged")
	}
	if a.FreeHubs {
		v := m.choose(p, RoleLock, "hubs", Lever(p, "hubs"),
			SelectorOption{Value: "locked", Words: "hubs locked"}, SelectorOption{Value: "free", Words: "hubs free"})
		l := m.add(p, "left hub", Of(p, "left hub"), Crosswise)
		r := m.add(p, "right hub", Of(p, "right hub"), Crosswise)
		m.couple(p, network.Coupling, "left hub lock", left, l, v == "locked", "hub locked")
		m.couple(p, network.Coupling, "right hub lock", right, r, v == "locked", "hub locked")
		left, right = l, r
	}
	if a.Disconnect != "" {
		v := m.choose(p, RoleLock, "side", Lever(p, "axle disconnect"),
			SelectorOption{Value: "engaged", Words: "engaged"}, SelectorOption{Value: "free",
				Words: a.Disconnect + " axle shaft disconnected"})
		side := &left
		if a.Disconnect == "right" {
			side = &right
		}
		out := m.add(p, "half shaft", a.Disconnect+" "+Of(p, "shaft"), Crosswise)
		m.couple(p, network.Coupling, "disconnect", *side, out, v == "engaged" && whole, "axle shaft engaged")
		*side = out
	}
	m.Outs[p.ID+".left"], m.Outs[p.ID+".right"] = left, right
}

func (a *Axle) traits() Traits {
	t := Traits{Axis: Lengthwise, Reach: OutOfReach, Bearings: []string{"ring"},
		TakeOffs: [][2]string{{"pinion", ", pinion shaft"}, {"ring", ", ring gear"}}}
	if a.Gears == "spur" {
		t.Axis = Crosswise
	}
	return t
}

func (a *Axle) has(*Part) []Feature {
	out := []Feature{FinalDrive, Geared, Cased, Splined}
	switch a.Differential.Type {
	case "open":
		out = append(out, OpenSides)
	case "limited_slip":
		out = append(out, Plates)
	case "locking", "spool":
		out = append(out, Joins)
	}
	if a.Differential.Type == "locking" || a.FreeHubs || a.Disconnect != "" {
		out = append(out, Actuated)
	}
	switch {
	case a.Change != nil || a.Gears == "spur" || a.Cut == "straight":
		out = append(out, StraightTeeth)
	case !a.Offset && a.Pinion > 0:
		out = append(out, CrossedAxes)
	}
	return out
}

// ratio is pinion shaft (or input shaft) turns per carrier turn.
func (a *Axle) ratio() (exact.Number, bool) {
	r, ok := teethRatio(a.Pinion, a.Ring, a.Ratio.Number)
	if s := a.Second; s != nil {
		if s.Sun == 0 {
			return one, false
		}
		r = r.Mul(one.Add(exact.New(int64(s.Ring), int64(s.Sun))))
	}
	if c := a.Change; c != nil {
		if c.Input == 0 {
			return one, false
		}
		r = r.Mul(exact.New(int64(c.Pinion), int64(c.Input)))
	}
	return r, ok
}

func (a *Axle) passes(func(string) string) Passed {
	r, known := a.ratio()
	return Passed{Ratio: r, Known: known}
}

func (a *Axle) shares(at func(string) string) *Split {
	if at("hubs") == "free" {
		return &Split{}
	}
	s := &Split{Branches: []Branch{branch("left"), branch("right")}, Share: evenly}
	switch {
	case a.Differential.Type == "spool", at("lock") == "locked":
		s.Share = nil
	case a.Differential.Type == "limited_slip":
		s.Limited = &a.Differential.LimitedSlip
	}
	if at("side") == "free" {
		s.Branches[map[string]int{"left": 0, "right": 1}[a.Disconnect]].Loose = true
	}
	return s
}

func (a *Axle) sides() []Side { return []Side{{"left", one}, {"right", one}} }

func (a *Axle) adopt(_ *Part, f Former) bool {
	if f.Kind == "two_stage" {
		a.Second = &SunRing{}
		return true
	}
	return f.Kind == "ring_and_pinion"
}

func (a *Axle) remarks(r *Solved, p *Part, add adder) {
	m := r.Machine
	if m.Powered() && !m.Broken(p) && m.axleSense(p) < 0 {
		text := fmt.Sprintf("The %s drives its wheels backward in a forward gear", say.Small(p.Called()))
		switch {
		case a.Gears != "bevel":
			add("wrong", p, "%s.%s", text, m.againstOthers(p))
		case a.Offset:
			add("wrong", p, "%s: with the pinion %s and this shaft direction the ring belongs on the other side. Moving "+
				"carrier and ring across can't "+
				"cure it: the pinion's axis passes the axle's (hypoid), so the teeth would not meet. It takes a housing built for this direction, "+
				"or another mounting.%s", text, m.ahead(p), m.againstOthers(p))
		default:
			add("wrong", p, "%s: with the pinion %s and this shaft direction the ring belongs on the other side. Pinion and "+
				"ring axes meet, so carrier "+
				"and ring can be moved to the other side of the pinion; then measure backlash and bearing preload again.%s",
				text, m.ahead(p), m.againstOthers(p))
		}
	}
	a.cutRemark(m, p, add)
	if s := a.Second; s != nil {
		planetChecks(p, s.Sun, s.Ring, 0, 0, false, add)
	}
}

// cutRemark: a spiral set is cut for one pinion spin, seen from the pinion's
// shank.
func (a *Axle) cutRemark(m *Machine, p *Part, add adder) {
	from := p.ID + ".pinion"
	if a.Change == nil {
		from = m.Outs[p.From]
	}
	spin := m.Senses()[from]
	if spin == 0 || a.Gears != "bevel" || a.Cut == "straight" || !m.Powered() || m.Reversing() {
		return
	}
	clockwise := spin > 0
	if m.ahead(p) == "behind" {
		clockwise = !clockwise
	}
	if clockwise == (a.Cut == "standard") {
		return
	}
	way, belongs := "counterclockwise", "standard"
	if clockwise {
		way = "clockwise"
	} else {
		belongs = "reverse"
	}
	add("caution", p, "The %s runs on the coast side of its teeth: its pinion is turned %s seen from the shank, and a "+
		"%s cut is made for the other way. "+
		"Weaker and louder; a set of the %s cut belongs here.", say.Small(p.Called()), way, a.Cut, belongs)
}

// axleSense is 1 where an axle is driven forward in a forward gear, −1 where
// backward, 0 where it isn't driven.
func (m *Machine) axleSense(p *Part) int {
	senses := m.Senses()
	sign := 0
	for _, side := range []string{".left", ".right"} {
		for _, q := range m.Doc.Below(p.ID + side) {
			if q.Wheel != nil && sign == 0 {
				sign = senses[q.ID+".wheel"]
			}
		}
	}
	if sign == 0 {
		sign = senses[p.ID+".ring"]
	}
	if m.Reversing() {
		sign = -sign
	}
	return sign
}

// againstOthers says what an axle that drives backward does to those that
// drive forward.
func (m *Machine) againstOthers(p *Part) string {
	var others []string
	locked := false
	for i := range m.Doc.Parts {
		q := &m.Doc.Parts[i]
		if q.Axle != nil && q != p && m.axleSense(q) > 0 {
			others = append(others, say.Small(q.Called()))
		}
		if q.made().between() != nil {
			s := m.Split(q)
			locked = locked || len(s.Branches) > 1 && s.Share == nil
		}
	}
	if len(others) == 0 {
		return ""
	}
	what := " It works against the " + strings.Join(others, " and the ")
	if locked {
		return what + ": locked together, only slipping tires give way, and what they drag is lost."
	}
	return what + ": over an open differential between them the two cancel and the vehicle does not drive."
}

// ahead and side say how a bevel set lies once its mounting is counted in.
// Rolled about its length, what was left is right; turned end for end, left
// is right and ahead is behind.
func (m *Machine) ahead(p *Part) string {
	ahead := p.Axle.PinionAt == "ahead"
	if p.Mounting == "end_for_end" {
		ahead = !ahead
	}
	if ahead {
		return "ahead"
	}
	return "behind"
}

func (m *Machine) side(p *Part) string {
	left := p.Axle.RingSide == "left"
	if p.Mounting == "turned_over" || p.Mounting == "end_for_end" {
		left = !left
	}
	if left {
		return "left"
	}
	return "right"
}

// bevelSense: with the pinion ahead of the axle a ring on its left turns an
// engine's direction into rolling forward; with the pinion behind, a ring on
// its right. (At the contact both surfaces move the same way: ω × r on both
// sides; docs/driveline.md works it through.)
func (m *Machine) bevelSense(p *Part) network.Sense {
	if (m.ahead(p) == "ahead") == (m.side(p) == "left") {
		return network.Same
	}
	return network.Opposite
}

// CarrierOf is the shaft of the differential carrier of an axle, or of the axle
// that a part hangs on; empty where there is none.
func (m *Machine) CarrierOf(p *Part) string {
	for p != nil {
		if p.Axle != nil {
			if p.Axle.Second != nil {
				return p.ID + ".carrier"
			}
			return p.ID + ".ring"
		}
		p = m.Doc.fedBy(p)
	}
	return ""
}

// Rating is what one shaft of a driveline may carry.
type Rating struct {
	Part  *Part
	Shaft string
	Side  string
	NM    float64
}

// StubRatings are those of the stubs and joints of the axles, 0 where a rating
// isn't known.
func (d *Document) StubRatings() []Rating {
	var out []Rating
	for i := range d.Parts {
		p := &d.Parts[i]
		if p.Axle == nil {
			continue
		}
		for _, side := range []string{"left", "right"} {
			out = append(out, Rating{p, p.ID + "." + side, side, p.Axle.StubNM})
		}
	}
	return out
}

// trials hold one side, hold the input, and try the lock.
func (a *Axle) trials(s *Stands, p *Part) []Trial {
	in := s.base.InputOf(p)
	left, right := endBelow(s.base, p.ID+".left"), endBelow(s.base, p.ID+".right")
	if left == "" || right == "" {
		return nil
	}
	name, input := say.Small(p.Called()), s.base.ByID[in].Name
	stage := "Both " + name + " wheels off the ground, on jack stands; gearbox in neutral."
	if s.doc.Lies == Bench {
		stage = "The " + name + " held in a cradle."
	}
	out := []Trial{{
		Title: Lever(p, "ratio") + ": one side held", Setup: []string{stage, "Hold the left side; watch that it does not creep."},
		Turn: fmt.Sprintf("Turn the %s 10 turns.", input),
		Tells: "With one side held the other turns twice what both would: half the counted ratio is the classic trap. " +
			"More or less than this: it has other gears, or the held side crept.",
		State: State{Input: turned(in, 10), Select: s.neutral, Wheels: s.lift, Hold: []string{left}, Engine: "free"},
		Watch: []string{right, left},
	}, {
		Title: Lever(p, "differential") + ": input held", Setup: []string{stage, "Hold the " + input + "."},
		Turn: "Turn the left side one turn forward.",
		Tells: "An open differential turns the other side back just as far. If neither turns, it is locked or a spool; " +
			"if the other follows forward, the input slipped.",
		State: State{Input: turned(left, 1), Select: s.neutral, Wheels: s.lift, Hold: []string{in}, Engine: "free"},
		Watch: []string{left, right},
	}}
	if a.Differential.Type == "locking" {
		out = append(out, Trial{
			Title: Lever(p, "locker"), Setup: []string{stage, "Engage the locker."}, Turn: "Turn the left side one turn forward.",
			Tells: "Both sides have to turn together. If the other side stays or turns back, the lock did not engage.",
			State: State{Input: turned(left, 1), Select: s.with(map[string]string{p.ID + ".lock": "locked"}), Wheels: s.lift, Engine: "free"},
			Watch: []string{right, in},
		})
	}
	return out
}

func (a *Axle) wear(_ *Document, p *Part) []Wear {
	name := say.Small(p.Called())
	out := []Wear{{"pinion_bearing", "worn " + name + " pinion bearings"},
		{"set_up", name + " ring and pinion worn, or set up wrong"}}
	if a.Differential.Type != "spool" {
		out = append(out, Wear{"side_wear", "worn " + name + " side gears or washers"})
	}
	return append(out, Wear{"pinion_seal", "leaking " + name + " pinion seal"}, Wear{"oil", "too little oil in the " + name},
		Wear{"breather", "water past the " + name + " breather"}, Wear{"spline_wear", "worn " + name + " axle shaft splines"})
}

// showsAt: play of an axle is felt at the shaft that feeds it.
func (a *Axle) showsAt(d *Document, p *Part) []string {
	if from := d.fedBy(p); from != nil {
		return []string{from.ID}
	}
	return nil
}
