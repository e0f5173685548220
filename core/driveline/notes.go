package driveline

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/say"
)

// reversing is whether something is set to drive backward.
func (m *machine) reversing() bool {
	odd := false
	for _, s := range m.selectors {
		p := m.part(s.Part)
		switch p.Kind {
		case "gearbox":
			for _, x := range p.Gearbox.Gears {
				if x.Name == s.Value && x.reverse() {
					odd = !odd
				}
			}
		case "upper", "gearcase", "reverse_gear":
			if s.Value == "reverse" || s.Value == "astern" {
				odd = !odd
			}
		}
	}
	return odd
}

// powered is whether the engine drives, turning its own way.
func (m *machine) powered() bool {
	if in := m.state.Input; in != nil && (in.RPM < 0 || in.Turns.Sign() < 0) {
		return false
	}
	return m.input == m.root && m.byID[m.root].part.Kind == "engine"
}

// notes says what a mechanic would remark.
func (r *result) notes(t *Trace) {
	add := func(kind string, p *Part, format string, args ...any) {
		id := ""
		if p != nil {
			id = p.ID
		}
		t.Notes = append(t.Notes, Note{kind, id, fmt.Sprintf(format, args...)})
	}
	m := r.m
	for i := range m.doc.Parts {
		p := &m.doc.Parts[i]
		switch p.Kind {
		case "axle":
			r.axleNotes(p, add)
			if s := p.Axle.Second; s != nil {
				planetChecks(p, s.Sun, s.Ring, 0, 0, false, add)
			}
		case "planetary":
			q := p.Planetary
			planetChecks(p, q.Sun, q.Ring, q.Planet, q.Planets, q.Paired, add)
		case "transfer_case":
			planetChecks(p, p.TransferCase.Range.Sun, p.TransferCase.Range.Ring, 0, 0, false, add)
			r.caseNotes(p, add)
		case "hub":
			if p.Hub.Type == "planetary" {
				planetChecks(p, p.Hub.Sun, p.Hub.Ring, 0, 0, false, add)
			}
		case "gearbox":
			r.gearboxNotes(p, add)
		case "propeller":
			r.propellerNotes(p, add)
		}
	}
	if r.torque.Starved {
		r.starvedNotes(add)
	}
	for _, e := range m.ends {
		if e.kind == "wheel" && m.wheelState(e.part) == onIce {
			add("fact", e.part, "The %s has next to no grip: it is reckoned as passing no torque on; traction with a grip of your own shows the rest.", say.Small(e.name))
		}
	}
}

type adder func(kind string, p *Part, format string, args ...any)

func (r *result) axleNotes(p *Part, add adder) {
	m := r.m
	a := p.Axle
	way := m.axleSense(p)
	if m.powered() && !m.broken(p) && way < 0 {
		switch {
		case a.Gears == "bevel":
			text := fmt.Sprintf("The %s drives its wheels backward in a forward gear: with the pinion %s and this shaft direction the ring belongs on the other side. ", say.Small(p.name()), m.ahead(p))
			if a.Offset {
				text += "Moving carrier and ring across can't cure it: the pinion's axis passes the axle's (hypoid), so the teeth would not meet. It takes a housing built for this direction, or another mounting."
			} else {
				text += "Pinion and ring axes meet, so carrier and ring can be moved to the other side of the pinion; backlash and bearing preload are then measured anew."
			}
			add("wrong", p, "%s", text+m.againstOthers(p))
		default:
			add("wrong", p, "The %s drives its wheels backward in a forward gear.%s", say.Small(p.name()), m.againstOthers(p))
		}
	}
	// A spiral set is cut for one pinion spin, seen from the pinion's shank.
	from := p.ID + ".pinion"
	if a.Change == nil {
		from = m.outs[p.From]
	}
	if spin := m.sensesOf()[from]; spin != 0 && a.Gears == "bevel" && a.Cut != "straight" && m.powered() && !m.reversing() {
		clockwise := spin > 0
		if m.ahead(p) == "behind" {
			clockwise = !clockwise
		}
		if clockwise != (a.Cut == "standard") {
			add("caution", p, "The %s runs on the coast side of its teeth: its pinion is turned %s seen from the shank, and a %s cut is made for the other way. Weaker and louder; a set of the %s cut belongs here.",
				say.Small(p.name()), map[bool]string{true: "clockwise", false: "counterclockwise"}[clockwise], a.Cut, map[bool]string{true: "standard", false: "reverse"}[clockwise])
		}
	}
}

// axleSense is 1 where an axle is driven forward in a forward gear, −1 where
// backward, 0 where it isn't driven.
func (m *machine) axleSense(p *Part) int {
	senses := m.sensesOf()
	sign := 0
	for _, side := range []string{".left", ".right"} {
		for _, q := range m.doc.below(p.ID + side) {
			if q.Kind == "wheel" && sign == 0 {
				sign = senses[q.ID+".wheel"]
			}
		}
	}
	if sign == 0 {
		sign = senses[p.ID+".ring"]
	}
	if m.reversing() {
		sign = -sign
	}
	return sign
}

// againstOthers says what an axle that drives backward does to those that
// drive forward.
func (m *machine) againstOthers(p *Part) string {
	var others []string
	locked := false
	for i := range m.doc.Parts {
		switch q := &m.doc.Parts[i]; {
		case q.Kind == "axle" && q != p && m.axleSense(q) > 0:
			others = append(others, say.Small(q.name()))
		case q.Kind == "transfer_case" && q.TransferCase.Front.Type != "none":
			locked = locked || q.TransferCase.Center.Type == "solid" || m.selected(q.ID+".center") == "locked"
		case q.Kind == "differential":
			locked = locked || m.selected(q.ID+".lock") == "locked"
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

// selected is a selector's position, or "".
func (m *machine) selected(id string) string {
	if s := m.selector(id); s != nil {
		return s.Value
	}
	return ""
}

// sign is a shaft's direction if no unknown ratio can turn it.
func (r *result) sign(i int) int {
	s := r.motion.Speed[i].Sign()
	for _, v := range r.variants {
		if v.motion.Speed[i].Sign() != s {
			return 0
		}
	}
	return s
}

// planetChecks are the usual build checks; a miss means count again, since
// shifted profiles and unequal spacing exist.
func planetChecks(p *Part, sun, ring, planet, planets int, paired bool, add adder) {
	if sun == 0 || ring == 0 {
		return
	}
	n := say.Small(p.name())
	if planet > 0 && !paired && ring != sun+2*planet {
		add("wrong", p, "Count again at the %s: a ring usually has sun + 2 × planet teeth, here %d + 2 × %d = %d, not %d. Shifted profiles exist.", n, sun, planet, sun+2*planet, ring)
	} else if planet == 0 && !paired && (ring-sun)%2 != 0 {
		add("wrong", p, "Count again at the %s: ring %d less sun %d is odd, so no whole planet gear fits between. Shifted profiles exist.", n, ring, sun)
	}
	if planets > 0 {
		sum, what := sun+ring, "sun + ring"
		if paired {
			sum, what = ring-sun, "ring − sun"
		}
		if sum%planets != 0 {
			add("wrong", p, "Count again at the %s: %s (%d) is not divisible by %d planets, so they can't sit evenly. Unequal spacing exists.", n, what, sum, planets)
		}
	}
}

func (r *result) caseNotes(p *Part, add adder) {
	t := p.TransferCase
	if t.Center.Type != "planetary" || t.Center.Sun == 0 {
		return
	}
	ringTo, sunTo := t.Center.RingTo, "front"
	if ringTo == "front" {
		sunTo = "rear"
	}
	total := exact.Int(int64(t.Center.Ring + t.Center.Sun))
	share := exact.Int(int64(t.Center.Ring)).Div(total).Mul(exact.Int(100))
	add("fact", p, "The center differential of the %s gives the %s %s %% and the %s %s %% of the torque (ring %d and sun %d of %d teeth). If it slips, the %s, with the smaller share, spins up fastest.",
		say.Small(p.name()), ringTo, share.Short(1), sunTo, exact.Int(100).Sub(share).Short(1), t.Center.Ring, t.Center.Sun, t.Center.Ring+t.Center.Sun, sunTo)
}

func (r *result) gearboxNotes(p *Part, add adder) {
	s := r.m.selector(p.ID)
	if s == nil {
		return
	}
	g := p.Gearbox
	if s.Value == "N" && g.Arrangement != "ratios" {
		add("fact", p, "Neutral in the %s: gears that are always in mesh turn with the input all the same; only no dog is engaged.", say.Small(p.name()))
	}
	for _, x := range g.Gears {
		if x.Name != s.Value {
			continue
		}
		switch ratio, known := g.gearRatio(x); {
		case x.Direct:
			add("fact", p, "%s is direct: input and output are locked together and no torque goes through gear teeth.", say.Capital(gearWords(x.Name)))
		case known && ratio.Equal(one) && g.Arrangement == "two_shaft":
			add("fact", p, "%s is 1:1, yet not direct: its torque goes through a gear pair.", say.Capital(gearWords(x.Name)))
		}
		if x.Idler > 0 {
			add("fact", p, "The reverse idler changes the direction, not the ratio.")
		}
	}
}

func (r *result) propellerNotes(p *Part, add adder) {
	i := r.c.Shaft(p.ID + ".prop")
	sign := r.sign(i)
	if sign == 0 || !r.m.powered() {
		return
	}
	if r.m.reversing() {
		sign = -sign
	}
	// Positive lengthwise is clockwise seen from the front, so a right-hand
	// propeller, clockwise seen from behind, drives ahead with a negative sign.
	hand := "right"
	if sign > 0 {
		hand = "left"
	}
	if p.Propeller.Hand != hand {
		add("wrong", p, "The %s is %s-hand, but in forward this shaft turns the way that a %s-hand one needs: it would push astern.", say.Small(p.name()), p.Propeller.Hand, hand)
	}
}

// starvedNotes says what keeps torque from getting through.
func (r *result) starvedNotes(add adder) {
	m := r.m
	for _, s := range m.selectors {
		p := m.part(s.Part)
		if s.Value == "N" || s.Value == "neutral" || (p.Kind == "clutch" && s.Value == "open") {
			o := s.option(s.Value)
			add("fact", p, "No torque passes the %s: %s.", say.Small(p.name()), o.Words)
			return
		}
	}
	for _, id := range m.state.Broken {
		if p := m.part(id); p != nil {
			add("wrong", p, "The %s is taken as broken: nothing passes it.", say.Small(p.name()))
		}
	}
	var loose []string
	for _, e := range m.ends {
		switch {
		case e.kind == "wheel" && m.wheelState(e.part) == lifted:
			loose = append(loose, say.Small(e.name)+" is off the ground")
		case e.kind == "wheel" && m.wheelState(e.part) == onIce:
			loose = append(loose, say.Small(e.name)+" is on ice")
		case e.kind == "open" && m.doc.Lies != Bench:
			loose = append(loose, "nothing is on the "+say.Small(e.name))
		}
	}
	if len(loose) > 0 && len(r.motion.Binds) == 0 {
		add("fact", nil, "No drive: %s, and an open differential gives its other side no more torque than that. A lock, a limited slip with the brake on, or a hand on the loose side brings it back.", strings.Join(loose, ", "))
	}
}

// corner fills what a turn asks.
func (r *result) corner(t *Trace) {
	c := r.m.state.Corner
	if c == nil {
		return
	}
	d := r.m.doc
	out := &CornerOut{RadiusM: c.RadiusM, Toward: c.Toward, TrackMM: d.track(), WheelbaseMM: d.wheelbase(), Wheels: []WheelPath{}, Spiders: []SpiderSpeed{}}
	out.AssumedSizes = d.Body == nil || d.Body.TrackMM == 0 || d.Body.WheelbaseMM == 0
	for i := range d.Parts {
		p := &d.Parts[i]
		if p.Kind != "wheel" {
			continue
		}
		f := r.m.factors[p.ID]
		half, sign := d.track()/2000, "+"
		if p.Wheel.Side == c.Toward {
			sign = "−"
		}
		formula := fmt.Sprintf("%s m %s %s m", say.Trim(c.RadiusM, 3), sign, say.Trim(half, 3))
		if x := d.aheadMM(p.Wheel); x != 0 {
			formula = fmt.Sprintf("√((%s)² + (%s m)²)", formula, say.Trim(math.Abs(x)/1000, 3))
		}
		out.Wheels = append(out.Wheels, WheelPath{Part: p.ID, RadiusM: f.Float() * c.RadiusM, Factor: f, Formula: formula})
	}
	for i, e := range r.m.net.Elements {
		a, k := e.Left, e.Carrier
		switch e.Kind {
		case network.Differential:
		case network.Planetary:
			if r.m.joints[i].ratio != "center" {
				continue
			}
			a = e.Ring
		default:
			continue
		}
		ia, ik := r.c.Shaft(a), r.c.Shaft(k)
		if r.motion.State[ik] == network.Free || r.motion.State[ia] == network.Free || r.motion.Speed[ik].IsZero() || len(r.depends(ia)) > 0 || len(r.depends(ik)) > 0 {
			continue
		}
		p := r.m.joints[i].part
		v := r.motion.Speed[ia].Sub(r.motion.Speed[ik]).Div(r.motion.Speed[ik])
		s := SpiderSpeed{Part: p.ID, Against: v, Formula: fmt.Sprintf("(%s − %s) ÷ %s, speeds per input turn", r.motion.Speed[ia].Short(5), r.motion.Speed[ik].Short(5), r.motion.Speed[ik].Short(5))}
		if rpm, ok := r.m.inputRPM(); ok {
			s.RPM = math.Abs(r.motion.Speed[ia].Sub(r.motion.Speed[ik]).Float()) * rpm
		}
		out.Spiders = append(out.Spiders, s)
	}
	r.cornerSlip(out)
	t.Corner = out
}

// cornerSlip is how far front and rear differ over a full circle.
func (r *result) cornerSlip(out *CornerOut) {
	var front, rear []float64
	for i := range r.m.doc.Parts {
		p := &r.m.doc.Parts[i]
		if p.Kind != "wheel" {
			continue
		}
		f := r.m.factors[p.ID].Float()
		if p.Wheel.At == "front" {
			front = append(front, f)
		} else {
			rear = append(rear, f)
		}
	}
	if len(front) == 0 || len(rear) == 0 {
		return
	}
	mean := func(x []float64) float64 {
		s := 0.0
		for _, v := range x {
			s += v
		}
		return s / float64(len(x))
	}
	g := 1.0
	all := r.m.doc.match(r.m)
	for i := range r.m.doc.Parts {
		if p := &r.m.doc.Parts[i]; p.Kind == "transfer_case" {
			if mt := all.At(p.ID); mt != nil && mt.Mismatch != nil {
				g += mt.Mismatch.Float()
			}
		}
	}
	// The front travels mean(front)·2πR; locked to the rear its tires turn for
	// mean(rear)·2πR ÷ (1 + mismatch).
	circle := 2 * math.Pi * out.RadiusM
	out.SlipMPerCircle = (mean(front) - mean(rear)/g) * circle
	out.SlipFormula = fmt.Sprintf("2π × %s m × (front %s − rear %s ÷ %s)", say.Trim(out.RadiusM, 3), say.Trim(mean(front), 5), say.Trim(mean(rear), 5), say.Trim(g, 5))
}

// sentence is the answer in one line.
func (r *result) sentence(t *Trace) {
	in := say.Small(r.m.byID[r.m.input].name)
	for _, b := range t.Binds {
		if b.Cut == "" {
			t.Sentence = "Nothing can turn: " + b.Words + "."
			return
		}
	}
	tail := ""
	if len(t.Binds) > 0 {
		tail = " In a bind"
		if p := t.Binds[0].Percent; p != nil {
			tail += ", " + say.Trim(math.Abs(*p), 2) + " %"
		}
		tail += "."
	}
	ends := t.Outputs
	moving := slices.DeleteFunc(slices.Clone(ends), func(o OutputOut) bool { return r.motion.State[r.c.Shaft(o.Shaft)] == network.Still })
	switch {
	case t.Stands && len(moving) == 0:
		t.Sentence = "The vehicle stands: nothing reaches the wheels." + tail
	case t.Overall != nil && len(moving) > 0:
		o := t.Overall
		end := r.m.ends[0]
		for _, e := range r.m.ends {
			if e.shaft == o.Shaft || r.m.carrierOf(e.part) == o.Shaft {
				end = e
				break
			}
		}
		prop := end.kind == "propeller" || end.part.Kind == "gearcase"
		who := "wheels"
		switch {
		case end.part.Kind == "axle":
			who = "carrier"
		case end.kind != "wheel":
			who = say.Small(end.name)
		}
		// A wheel's sign counts the hubs behind the carrier in.
		sign := o.Ratio.Sign()
		axis := r.m.byID[end.shaft].axis
		do, way := "turns of the %s turn", turning(axis, sign, prop)
		if o.Ratio.Abs().Equal(one) {
			do = "turn of the %s turns"
		}
		if axis == Crosswise {
			way = strings.TrimPrefix(way, "rolls ")
		}
		t.Sentence = fmt.Sprintf("%s "+do+" the %s once, %s.%s", o.Ratio.Abs().Short(3), in, who, way, tail)
		if t.Stands {
			t.Sentence += " The vehicle stands."
		}
	case len(t.Unknown) > 0:
		t.Sentence = "How fast the ends turn hangs on what isn't known yet: " + t.Unknown[0].Words + more(len(t.Unknown)-1) + "." + tail
	case len(moving) == 0:
		t.Sentence = "Turning the " + in + " moves none of the ends." + tail
	default:
		t.Sentence = "The " + in + " turns; what the ends do is decided by what drags less." + tail
	}
}

func more(n int) string {
	if n == 0 {
		return ""
	}
	return fmt.Sprintf(" and %d more", n)
}
