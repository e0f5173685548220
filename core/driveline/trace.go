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

// ShaftOut is what can be said of one shaft.
type ShaftOut struct {
	ID   string `json:"id"`
	Part string `json:"part"`
	Name string `json:"name"`
	Axis Axis   `json:"axis"`
	// State: driven, still, free, bind, or unknown where it hangs on a ratio
	// that isn't known.
	State string `json:"state"`
	// Speed is turns per turn of the input, where it is known.
	Speed *exact.Number `json:"speed,omitempty"`
	// Ratio is input turns per turn of this shaft.
	Ratio *exact.Number `json:"ratio,omitempty"`
	RPM   *float64      `json:"rpm,omitempty"`
	Turns *exact.Number `json:"turns,omitempty"`
	// Sign is the direction, 0 where it isn't known or the shaft is still.
	Sign      int    `json:"sign"`
	Direction string `json:"direction"`
	// Torque is per unit of input torque, where the equations fix it.
	Torque      *exact.Number `json:"torque,omitempty"`
	TorqueWords string        `json:"torque_words,omitempty"`
	// Power is the part of the input's power that passes, for drawing.
	Power float64 `json:"power"`
	// Drawn is a speed to draw it at: its own, or for a free shaft one that
	// is as likely as any.
	Drawn   float64  `json:"drawn"`
	Why     string   `json:"why,omitempty"`
	Depends []string `json:"depends,omitempty"` // ratios that aren't known: "rear: ratio"
}

// MeshOut is one place where shafts act on each other.
type MeshOut struct {
	ID     string   `json:"id"`
	Part   string   `json:"part"`
	Kind   string   `json:"kind"`
	Shafts []string `json:"shafts"`
	Teeth  []int    `json:"teeth,omitempty"`
	Open   bool     `json:"open,omitempty"`
	Words  string   `json:"words"`
	Power  float64  `json:"power"`
}

// OutputOut is a wheel, a propeller or an open end.
type OutputOut struct {
	Shaft string `json:"shaft"`
	Part  string `json:"part"`
	Kind  string `json:"kind"`
	Name  string `json:"name"`
	State string `json:"state,omitempty"` // of a wheel: ground, lifted, ice, held
	// Share is the part of all output torque (wheels: drive force) that
	// arrives here; absent where grip decides or nothing arrives.
	Share      *exact.Number `json:"share,omitempty"`
	ShareWords string        `json:"share_words"`
	Path       []Step        `json:"path"`
}

// Step is one line of the way from the input to an output.
type Step struct {
	Element string        `json:"element"`
	Part    string        `json:"part"`
	Shaft   string        `json:"shaft"`
	Words   string        `json:"words"`
	Ratio   *exact.Number `json:"ratio,omitempty"`   // of this step: turns before per turn after
	Product *exact.Number `json:"product,omitempty"` // input turns per turn after
	Source  *Source       `json:"source,omitempty"`
	Note    string        `json:"note,omitempty"`
}

// BindOut is a loop that can't turn, or can't be told.
type BindOut struct {
	Words    string        `json:"words"`
	Loop     []string      `json:"loop"` // parts, in line
	Shafts   []string      `json:"shafts"`
	Cut      string        `json:"cut,omitempty"`
	Mismatch *exact.Number `json:"mismatch,omitempty"` // a part, not %
	Percent  *float64      `json:"percent,omitempty"`
	Unknown  bool          `json:"unknown,omitempty"` // hangs on a ratio that isn't known
	Held     bool          `json:"held,omitempty"`
}

// Note is a remark: a caution, a fact or something that looks wrong.
type Note struct {
	Kind string `json:"kind"` // caution, wrong, fact
	Part string `json:"part,omitempty"`
	Text string `json:"text"`
}

// WeakLink is the part whose torque is highest over its rating.
type WeakLink struct {
	Part    string  `json:"part"`
	Torque  float64 `json:"torque_nm"`
	Rated   float64 `json:"rated_nm"`
	Used    float64 `json:"used"` // torque over rating
	Formula string  `json:"formula"`
}

// Trace is everything about a driveline in one state.
type Trace struct {
	Input     string       `json:"input"`
	Shafts    []ShaftOut   `json:"shafts"`
	Meshes    []MeshOut    `json:"meshes"`
	Outputs   []OutputOut  `json:"outputs"`
	Binds     []BindOut    `json:"binds"`
	Notes     []Note       `json:"notes"`
	Selectors []Selector   `json:"selectors"`
	Sentence  string       `json:"sentence"`
	Stands    bool         `json:"stands"` // a vehicle that nothing pushes
	SpeedKMH  *float64     `json:"speed_kmh,omitempty"`
	Overall   *OverallOut  `json:"overall,omitempty"`
	Corner    *CornerOut   `json:"corner,omitempty"`
	Match     *Match       `json:"match,omitempty"`
	WeakLink  *WeakLink    `json:"weak_link,omitempty"`
	Gears     []GearRow    `json:"gears,omitempty"`
	Shifts    []ShiftRow   `json:"shifts,omitempty"`
	Tests     []HandTest   `json:"tests,omitempty"`
	Unknown   []UnknownOut `json:"unknown"`
}

// UnknownOut is a ratio that isn't known.
type UnknownOut struct {
	Part  string `json:"part"`
	Ratio string `json:"ratio"`
	Words string `json:"words"`
}

// OverallOut is the ratio from the input to the driven wheels or propeller.
type OverallOut struct {
	Ratio exact.Number `json:"ratio"`
	Shaft string       `json:"shaft"`
	Words string       `json:"words"`
}

// result is a solved machine.
type result struct {
	m        *machine
	c        *network.Compiled
	motion   network.Motion
	torque   network.Torque
	stands   bool
	variants []variant
}

// variant is the same machine with one unknown ratio set to another value.
type variant struct {
	motion network.Motion
	torque network.Torque
}

// solve runs the equations, and once more with the vehicle standing where
// nothing pushes it.
func (m *machine) solve() (*result, error) {
	r := &result{m: m}
	c, err := network.Compile(m.net)
	if err != nil {
		return nil, fmt.Errorf("the parts make no network: %w", err)
	}
	r.c = c
	r.motion = c.Solve(m.prefer)
	r.torque = c.Torque(r.motion, m.state.Losses)
	if road := c.Shaft("road"); road >= 0 && r.torque.Starved && r.motion.State[road] == network.Free {
		r.stands = true
		m.net.Elements = append(m.net.Elements, network.Element{ID: "stands", Kind: network.Holder, Shaft: "road"})
		m.net.Shafts = append(m.net.Shafts, "road")
		m.joints = append(m.joints, joint{words: "the vehicle stands"})
		if r.c, err = network.Compile(m.net); err != nil {
			return nil, err
		}
		r.motion = r.c.Solve(m.prefer)
		r.torque = r.c.Torque(r.motion, m.state.Losses)
	}
	for k, u := range m.unknowns {
		e := &m.net.Elements[u.element]
		was := *e
		if e.Kind == network.Planetary {
			e.TeethSun, e.TeethRing = placeholderTeeth(k+1, 1)
		} else {
			e.Ratio = placeholder(k+1, 1)
		}
		c, err := network.Compile(m.net)
		*e = was
		if err != nil {
			return nil, err
		}
		v := variant{motion: c.Solve(m.prefer)}
		v.torque = c.Torque(v.motion, m.state.Losses)
		r.variants = append(r.variants, v)
	}
	return r, nil
}

// depends lists the unknown ratios on which a shaft's speed hangs.
func (r *result) depends(shaft int) []int {
	var out []int
	for k, v := range r.variants {
		if v.motion.State[shaft] != r.motion.State[shaft] || !v.motion.Speed[shaft].Equal(r.motion.Speed[shaft]) {
			out = append(out, k)
		}
	}
	return out
}

// torqueKnown is whether a shaft's torque is fixed and hangs on nothing
// unknown.
func (r *result) torqueKnown(shaft int) (exact.Number, bool) {
	if r.torque.Starved || !r.torque.Known[shaft] {
		return exact.Number{}, false
	}
	for _, v := range r.variants {
		if v.torque.Starved || !v.torque.Known[shaft] || !v.torque.Shaft[shaft].Equal(r.torque.Shaft[shaft]) {
			return exact.Number{}, false
		}
	}
	return r.torque.Shaft[shaft], true
}

// Want asks for the parts of a trace that cost more than one solution.
type Want struct {
	Gears  bool `json:"gears,omitempty"` // every gear × range
	Shifts bool `json:"shifts,omitempty"`
	Tests  bool `json:"tests,omitempty"` // on stands
	// SpeedKMH is the road speed for the shifts.
	SpeedKMH float64 `json:"speed_kmh,omitempty"`
}

// Run traces a driveline in a state. The document must have passed Check.
func Run(d *Document, s State, want Want) (*Trace, error) {
	m := build(d, &s)
	if err := m.checkState(&s); err != nil {
		return nil, err
	}
	r, err := m.solve()
	if err != nil {
		return nil, err
	}
	t := r.trace()
	if want.Gears || want.Shifts {
		if t.Gears, err = gearTable(d, s); err != nil {
			return nil, err
		}
	}
	if want.Shifts {
		if t.Shifts, err = shiftTable(d, s, want.SpeedKMH); err != nil {
			return nil, err
		}
		if !want.Gears {
			t.Gears = nil
		}
	}
	if want.Tests {
		if t.Tests, err = handTests(d); err != nil {
			return nil, err
		}
	}
	return t, nil
}

// rpm is the input's speed, for print: by its own sign if given.
func (m *machine) inputRPM() (float64, bool) {
	if in := m.state.Input; in != nil && in.RPM != 0 {
		return math.Abs(in.RPM), true
	}
	return 0, false
}

func (r *result) trace() *Trace {
	m := r.m
	t := &Trace{Input: m.input, Shafts: []ShaftOut{}, Meshes: []MeshOut{}, Outputs: []OutputOut{}, Binds: []BindOut{}, Notes: []Note{},
		Selectors: m.selectors, Unknown: []UnknownOut{}, Stands: r.stands}
	if t.Selectors == nil {
		t.Selectors = []Selector{}
	}
	for _, u := range m.unknowns {
		t.Unknown = append(t.Unknown, UnknownOut{u.part.ID, u.ratio, u.words()})
	}
	power := r.power()
	for _, s := range m.shafts {
		t.Shafts = append(t.Shafts, r.shaftOut(s, power))
	}
	r.meshes(t)
	r.binds(t)
	r.outputs(t)
	r.corner(t)
	t.Match = m.doc.match(m)
	r.notes(t)
	r.weak(t)
	r.overall(t)
	r.sentence(t)
	return t
}

func (u unknown) words() string {
	n := say.Small(u.part.name())
	switch u.ratio {
	case "ratio":
		return n
	case "low":
		return "low range of the " + n
	case "front":
		return "front drive of the " + n
	case "center":
		return "center differential of the " + n
	case "constant":
		return "constant mesh of the " + n
	case "change":
		return "change gears of the " + n
	case "second":
		return "second stage of the " + n
	case "ahead", "astern", "high":
		return u.ratio + " of the " + n
	}
	return gearWords(u.ratio) + " of the " + n
}

func (r *result) unknownWords(list []int) []string {
	out := make([]string, len(list))
	for i, k := range list {
		out[i] = r.m.unknowns[k].words()
	}
	return out
}

func (r *result) shaftOut(s *shaft, power []float64) ShaftOut {
	i := r.c.Shaft(s.id)
	out := ShaftOut{ID: s.id, Part: s.part.ID, Name: s.name, Axis: s.axis, State: string(r.motion.State[i]), Drawn: r.motion.Drawn[i].Float(), Power: power[i]}
	prop := s.part.Kind == "propeller" || (s.part.Kind == "gearcase" && s.axis == Lengthwise)
	speed := r.motion.Speed[i]
	deps := r.depends(i)
	switch {
	case len(deps) > 0 && r.motion.State[i] != network.Free:
		out.State = "unknown"
		out.Depends = r.unknownWords(deps)
		out.Sign = speed.Sign()
		for _, k := range deps {
			if r.variants[k].motion.Speed[i].Sign() != out.Sign {
				out.Sign = 0
			}
		}
		out.Direction = "turns, which way isn't known"
		if out.Sign != 0 {
			out.Direction = turning(s.axis, out.Sign, prop)
		}
		out.Why = "how fast hangs on: " + strings.Join(out.Depends, ", ")
	case r.motion.State[i] == network.Free:
		out.Direction = "free"
		out.Why = r.whyFree(i, s)
	default:
		v := speed
		out.Speed = &v
		out.Sign = v.Sign()
		out.Direction = turning(s.axis, out.Sign, prop)
		if !v.IsZero() {
			inv := v.Inv()
			out.Ratio = &inv
		}
		if rpm, ok := r.m.inputRPM(); ok {
			x := v.Float() * rpm
			out.RPM = &x
		}
		if in := r.m.state.Input; in != nil && !in.Turns.IsZero() {
			x := v.Mul(in.Turns.Abs())
			out.Turns = &x
		}
		if r.motion.State[i] == network.Bound {
			out.Why = "in a bind: " + r.bindOf(i)
		}
	}
	if x, ok := r.torqueKnown(i); ok {
		out.Torque = &x
	} else {
		switch {
		case r.torque.Starved:
			out.TorqueWords = "none"
		case !r.torque.Known[i]:
			out.TorqueWords = r.m.setBy()
		default:
			out.TorqueWords = "hangs on a ratio that isn't known"
		}
	}
	return out
}

// setBy is what decides a torque that the equations leave open.
func (m *machine) setBy() string {
	if m.doc.Lies == Boat {
		return "set by the water"
	}
	return "set by grip"
}

func (r *result) bindOf(shaft int) string {
	for _, b := range r.motion.Binds {
		if slices.Contains(b.Shafts, shaft) {
			return r.bindWords(b)
		}
	}
	return ""
}

// whyFree says why nothing decides a shaft's speed.
func (r *result) whyFree(i int, s *shaft) string {
	if len(r.motion.Tied[i]) == 0 {
		return "nothing drives or holds it"
	}
	// Tied through a differential whose carrier is determined?
	for _, e := range r.m.net.Elements {
		if e.Kind != network.Differential && e.Kind != network.Planetary {
			continue
		}
		a, b := e.Left, e.Right
		if e.Kind == network.Planetary {
			a, b = e.Sun, e.Ring
		}
		ia, ib, ic := r.c.Shaft(a), r.c.Shaft(b), r.c.Shaft(e.Carrier)
		if (ia == i || ib == i || slices.Contains(r.motion.Tied[i], ia)) && r.motion.State[ia] == network.Free && r.motion.State[ib] == network.Free &&
			r.motion.State[ic] != network.Free && ic >= 0 {
			return fmt.Sprintf("the two sides of the %s share its speed; whichever drags less turns more (drawn as if both drag alike)", say.Small(r.m.joints[elementIndex(r.m, e.ID)].part.name()))
		}
	}
	var names []string
	for _, j := range r.motion.Tied[i] {
		if len(names) == 3 {
			names = append(names, "…")
			break
		}
		if id := r.c.Names()[j]; r.m.byID[id] != nil {
			names = append(names, r.m.byID[id].name)
		}
	}
	return "nothing drives it; it turns only together with: " + strings.Join(names, ", ")
}

func elementIndex(m *machine, id string) int {
	for i := range m.net.Elements {
		if m.net.Elements[i].ID == id {
			return i
		}
	}
	return 0
}

// power is the part of the input's power that each shaft passes on; where grip
// decides it, shares are drawn alike.
func (r *result) power() []float64 {
	out := make([]float64, len(r.c.Names()))
	if r.torque.Starved {
		return out
	}
	for i := range out {
		if r.torque.Known[i] {
			out[i] = math.Abs(r.torque.Shaft[i].Float() * r.motion.Speed[i].Float())
		} else {
			out[i] = math.NaN()
		}
	}
	// Shafts set by grip: all alike among the outputs that they lead to.
	n := 0
	for _, e := range r.m.ends {
		if i := r.c.Shaft(e.shaft); math.IsNaN(out[i]) {
			n++
		}
	}
	for i := range out {
		if math.IsNaN(out[i]) {
			out[i] = 1 / float64(max(n, 1)) * float64(max(1, r.leadsTo(i)))
		}
		out[i] = math.Min(out[i], 1)
	}
	return out
}

// leadsTo counts the outputs set by grip that are reached from a shaft without
// going back through its part's feed.
func (r *result) leadsTo(shaft int) int {
	id := r.c.Names()[shaft]
	s := r.m.byID[id]
	if s == nil {
		return 0
	}
	n := 0
	for _, e := range r.m.ends {
		if e.shaft == id {
			return 1
		}
		for p := e.part; p != nil && p.From != ""; {
			if r.m.outs[p.From] == id {
				n++
				break
			}
			up, _, _ := strings.Cut(p.From, ".")
			p = r.m.parts[up]
		}
	}
	return n
}

func (r *result) meshes(t *Trace) {
	power := r.power()
	// What each element passes on: the power that it puts into shafts.
	passes := make([]float64, len(r.m.net.Elements))
	known := make([]bool, len(r.m.net.Elements))
	for _, x := range r.torque.Element {
		if x.Known {
			known[x.Element] = true
			if p := x.Torque.Float() * r.motion.Speed[x.Shaft].Float(); p > 0 {
				passes[x.Element] += p
			}
		}
	}
	for i, e := range r.m.net.Elements {
		switch e.Kind {
		case network.Mesh, network.Planetary, network.Differential, network.Coupling, network.Lock, network.Fluid:
		default:
			continue
		}
		x := MeshOut{ID: e.ID, Part: r.m.joints[i].part.ID, Kind: string(e.Kind), Open: e.Open, Words: r.m.joints[i].words}
		for _, s := range []string{e.A, e.B, e.Sun, e.Ring, e.Left, e.Right, e.Carrier} {
			if s != "" {
				x.Shafts = append(x.Shafts, s)
			}
		}
		if r.m.joints[i].unknown == 0 {
			for _, n := range []int{e.TeethA, e.TeethB, e.TeethSun, e.TeethRing} {
				if n > 0 {
					x.Teeth = append(x.Teeth, n)
				}
			}
		}
		if !e.Open && !r.torque.Starved {
			if known[i] {
				x.Power = math.Min(passes[i], 1)
			} else if len(x.Shafts) > 1 {
				x.Power = power[r.c.Shaft(x.Shafts[1])]
			}
		}
		t.Meshes = append(t.Meshes, x)
	}
}

func (r *result) binds(t *Trace) {
	for _, b := range r.motion.Binds {
		x := BindOut{Words: r.bindWords(b), Loop: r.loopParts(b), Shafts: []string{}, Held: b.Held, Unknown: len(r.bindUnknown(b)) > 0}
		for _, s := range b.Shafts {
			x.Shafts = append(x.Shafts, r.c.Names()[s])
		}
		if b.Cut >= 0 {
			x.Cut = r.m.net.Elements[b.Cut].ID
			if !x.Unknown {
				v := b.Mismatch
				f := v.Float() * 100
				x.Mismatch, x.Percent = &v, &f
			}
		}
		t.Binds = append(t.Binds, x)
	}
}

func (r *result) bindUnknown(b network.Bind) []int {
	var out []int
	for _, e := range b.Elements {
		if k := r.m.joints[e].unknown; k > 0 {
			out = append(out, k-1)
		}
	}
	return out
}

func (r *result) loopParts(b network.Bind) []string {
	out := []string{}
	for _, e := range b.Elements {
		if p := r.m.joints[e].part; p != nil && !slices.Contains(out, p.ID) {
			out = append(out, p.ID)
		}
	}
	return out
}

// bindWords says what contradicts what; the loop is listed beside it.
func (r *result) bindWords(b network.Bind) string {
	switch unknown := r.bindUnknown(b); {
	case b.Held:
		return "it is turned and held at once, so something between has to slip or nothing moves"
	case b.Cut < 0:
		return "jammed: two ways through the gears with different ratios are engaged at once"
	case len(unknown) > 0:
		return "locked together over the road; whether both ways agree hangs on the " + strings.Join(r.unknownWords(unknown), ", ")
	}
	f := b.Mismatch.Float() * 100
	e := r.m.net.Elements[b.Cut]
	how := "slower"
	if f > 0 {
		how = "faster"
	}
	who := "the other side"
	if s := r.m.byID[e.B]; s != nil {
		who = s.name
	}
	by := "the " + r.m.joints[b.Cut].words
	if e.Kind == network.Lock {
		by = "the lock"
	}
	return fmt.Sprintf("over the road the %s would turn %s %% %s than %s lets it: tires slip that much, or the driveline winds up", who, say.Trim(math.Abs(f), 3), how, by)
}

// shares is the part of all output torque (wheels: of all drive force) at each
// end; nil where the equations leave it open or nothing arrives at all. loads
// is what arrives, nil where it is open.
func (r *result) shares(q network.Torque) (shares, loads []*exact.Number) {
	sum, all := exact.Number{}, true
	shares, loads = make([]*exact.Number, len(r.m.ends)), make([]*exact.Number, len(r.m.ends))
	for i, e := range r.m.ends {
		sh := r.c.Shaft(e.shaft)
		if q.Starved || !q.Known[sh] {
			all = false
			continue
		}
		x := q.Shaft[sh]
		if r.m.isHeld(e) {
			x = exact.Number{} // it goes into whatever holds
		}
		if e.kind == "wheel" {
			x = x.Div(travel(e.part)) // a force
		}
		loads[i] = &x
		sum = sum.Add(x)
	}
	for i, x := range loads {
		if x != nil && (x.IsZero() || (all && !sum.IsZero())) {
			v := exact.Number{}
			if !x.IsZero() {
				v = x.Div(sum)
			}
			shares[i] = &v
		}
	}
	return shares, loads
}

// isHeld reports whether an end is held still.
func (m *machine) isHeld(e end) bool {
	for _, id := range m.state.Hold {
		if m.holdable(id) == e.shaft {
			return true
		}
	}
	return e.kind == "wheel" && m.wheelState(e.part) == held
}

// outputs fills what arrives at the ends and the way to each.
func (r *result) outputs(t *Trace) {
	shares, loads := r.shares(r.torque)
	for _, v := range r.variants {
		other, _ := r.shares(v.torque)
		for i := range shares {
			if shares[i] != nil && (other[i] == nil || !other[i].Equal(*shares[i])) {
				shares[i] = nil
			}
		}
	}
	for i, e := range r.m.ends {
		o := OutputOut{Shaft: e.shaft, Part: e.part.ID, Kind: e.kind, Name: e.name, Path: r.path(e.shaft), Share: shares[i]}
		if e.kind == "wheel" {
			o.State = r.m.wheelState(e.part)
		}
		switch {
		case r.torque.Starved || (o.Share != nil && o.Share.IsZero()):
			o.ShareWords = "no torque arrives"
		case o.Share != nil:
			o.ShareWords = o.Share.Mul(exact.Int(100)).Short(1) + " % of the torque"
			if e.kind == "wheel" {
				o.ShareWords = o.Share.Mul(exact.Int(100)).Short(1) + " % of the drive force"
			}
		case !r.torque.Known[r.c.Shaft(e.shaft)]:
			o.ShareWords = r.m.setBy()
		case loads[i] != nil && len(r.variants) == 0:
			o.ShareWords = "its part of what grip sets"
		default:
			o.ShareWords = "hangs on a ratio that isn't known"
		}
		t.Outputs = append(t.Outputs, o)
	}
}

// path finds the way from the input to a shaft through what is engaged.
func (r *result) path(to string) []Step {
	type way struct {
		shaft   string
		element int
		from    *way
	}
	seen := map[string]bool{r.m.input: true}
	queue := []*way{{shaft: r.m.input, element: -1}}
	var found *way
	for len(queue) > 0 && found == nil {
		w := queue[0]
		queue = queue[1:]
		for i := range r.m.net.Elements {
			e := &r.m.net.Elements[i]
			if e.Open || e.Kind == network.Road || e.Kind == network.Holder {
				continue
			}
			ends := []string{e.A, e.B, e.Sun, e.Ring, e.Left, e.Right, e.Carrier}
			if !slices.Contains(ends, w.shaft) {
				continue
			}
			for _, s := range ends {
				if s == "" || seen[s] {
					continue
				}
				seen[s] = true
				n := &way{s, i, w}
				queue = append(queue, n)
				if s == to {
					found = n
				}
			}
		}
	}
	steps := []Step{}
	for w := found; w != nil && w.from != nil; w = w.from {
		steps = append(steps, r.step(w.element, w.from.shaft, w.shaft))
	}
	slices.Reverse(steps)
	return steps
}

func (r *result) step(element int, from, to string) Step {
	j := r.m.joints[element]
	s := Step{Element: r.m.net.Elements[element].ID, Part: j.part.ID, Shaft: to, Words: j.words}
	a, b := r.c.Shaft(from), r.c.Shaft(to)
	va, vb := r.motion.Speed[a], r.motion.Speed[b]
	known := len(r.depends(a)) == 0 && len(r.depends(b)) == 0 && r.motion.State[a] != network.Free && r.motion.State[b] != network.Free
	switch {
	case j.unknown > 0:
		s.Note = "ratio not known"
	case known && !vb.IsZero():
		x, y := va.Div(vb), vb.Inv()
		s.Ratio, s.Product = &x, &y
		e := &r.m.net.Elements[element]
		if e.Kind == network.Lock || e.Kind == network.Coupling {
			s.Ratio = &one
		}
		if va.Sign()*vb.Sign() < 0 && !j.bevel && r.m.byID[from].axis == r.m.byID[to].axis {
			s.Note = "direction reversed"
		}
	case known:
		s.Note = "stands still"
	case r.motion.State[b] == network.Free:
		s.Note = "free"
	}
	if src, ok := j.part.Sources[j.ratio]; ok && j.ratio != "" {
		s.Source = &src
	}
	return s
}

// overall is the ratio to the driven wheels (their mean on the axle that
// drives first) or the propeller.
func (r *result) overall(t *Trace) {
	for _, e := range r.m.ends {
		if e.kind == "open" && len(r.m.ends) > 1 && r.m.doc.Lies != Bench {
			continue
		}
		// The carrier speed is what a wheel does straight ahead.
		sh := e.shaft
		if p := e.part; p.Kind == "wheel" || p.Kind == "axle" {
			if c := r.m.carrierOf(p); c != "" {
				sh = c
			}
		}
		i := r.c.Shaft(sh)
		if r.motion.State[i] == network.Free || len(r.depends(i)) > 0 || r.motion.Speed[i].IsZero() {
			continue
		}
		v := r.motion.Speed[i].Inv()
		if p := e.part; p.Kind == "wheel" {
			v = v.Mul(r.m.hubRatio(p))
		}
		t.Overall = &OverallOut{Ratio: v, Shaft: sh, Words: fmt.Sprintf("%s input turns per turn of the %s", v.Abs().Short(3), say.Small(e.name))}
		break
	}
	if i := r.c.Shaft("road"); i >= 0 && r.motion.State[i] != network.Free && len(r.depends(i)) == 0 {
		if rpm, ok := r.m.inputRPM(); ok && r.m.tiresKnown() {
			v := r.motion.Speed[i].Float() * rpm * 60 / 1000
			t.SpeedKMH = &v
		}
	}
}

func (m *machine) tiresKnown() bool {
	for _, e := range m.ends {
		if e.kind == "wheel" && e.part.Wheel.RollingMM.IsZero() {
			return false
		}
	}
	return true
}

// carrierOf is the differential carrier of an axle, or behind a wheel.
func (m *machine) carrierOf(p *Part) string {
	for p != nil {
		if p.Kind == "axle" {
			if p.Axle.Second != nil {
				return p.ID + ".carrier"
			}
			return p.ID + ".ring"
		}
		id, _, _ := strings.Cut(p.From, ".")
		p = m.parts[id]
	}
	return ""
}

// hubRatio is the reduction between carrier and wheel.
func (m *machine) hubRatio(w *Part) exact.Number {
	out := one
	for p := w; p != nil && p.From != ""; {
		id, _, _ := strings.Cut(p.From, ".")
		p = m.parts[id]
		if p == nil || p.Kind == "axle" {
			break
		}
		if h := p.Hub; h != nil {
			if h.Type == "portal" && h.Drive > 0 {
				out = out.Mul(exact.New(int64(h.Driven), int64(h.Drive)))
				if h.Idlers%2 == 0 {
					out = out.Neg()
				}
			}
			if h.Type == "planetary" && h.Sun > 0 {
				out = out.Mul(one.Add(exact.New(int64(h.Ring), int64(h.Sun))))
			}
		}
	}
	return out
}

// weak finds the part nearest to its rating at the engine's greatest torque.
func (r *result) weak(t *Trace) {
	nm := 0.0
	if e := r.m.parts[strings.TrimSuffix(r.m.root, ".crank")]; e != nil && e.Engine != nil && r.m.input == r.m.root {
		nm = e.Engine.TorqueNM
	}
	if nm == 0 {
		return
	}
	for i := range r.m.doc.Parts {
		p := &r.m.doc.Parts[i]
		in := r.m.outs[p.From]
		if p.RatedNM == 0 || in == "" {
			continue
		}
		x, ok := r.torqueKnown(r.c.Shaft(in))
		if !ok {
			continue
		}
		at := math.Abs(x.Float()) * nm
		if w := at / p.RatedNM; t.WeakLink == nil || w > t.WeakLink.Used {
			t.WeakLink = &WeakLink{Part: p.ID, Torque: at, Rated: p.RatedNM, Used: w,
				Formula: fmt.Sprintf("engine %s N·m × %s = %s N·m at its input; rated for %s N·m", say.Trim(nm, 0), x.Abs().Short(3), say.Trim(at, 0), say.Trim(p.RatedNM, 0))}
		}
	}
	r.weakStub(t, nm)
}

// weakStub looks at the stubs and joints of the axles, which have ratings of
// their own.
func (r *result) weakStub(t *Trace, nm float64) {
	for i := range r.m.doc.Parts {
		p := &r.m.doc.Parts[i]
		if p.Axle == nil || p.Axle.StubNM == 0 {
			continue
		}
		for _, side := range []string{"left", "right"} {
			x, ok := r.torqueKnown(r.c.Shaft(p.ID + "." + side))
			if !ok {
				continue
			}
			at := math.Abs(x.Float()) * nm
			if w := at / p.Axle.StubNM; t.WeakLink == nil || w > t.WeakLink.Used {
				t.WeakLink = &WeakLink{Part: p.ID, Torque: at, Rated: p.Axle.StubNM, Used: w,
					Formula: fmt.Sprintf("engine %s N·m × %s = %s N·m at its %s stub; a stub is rated for %s N·m", say.Trim(nm, 0), x.Abs().Short(3), say.Trim(at, 0), side, say.Trim(p.Axle.StubNM, 0))}
			}
		}
	}
}
