package driveline

import (
	"fmt"
	"math"
	"slices"

	"zorvel/core/fault"
	"zorvel/core/say"
)

// Gravity is standard gravity in m/s² (ISO 80000-3).
const Gravity = 9.80665

// Grip is what the ground allows, and what the vehicle is asked to do.
type Grip struct {
	// Wheels is the coefficient of grip of each wheel; Default for the rest.
	Wheels  map[string]float64 `json:"wheels,omitempty"`
	Default float64            `json:"default,omitempty"`
	// LoadsN are wheel loads that were measured; without them they come from
	// the body's mass, balance and the grade.
	LoadsN map[string]float64 `json:"loads_n,omitempty"`
	// GradePercent is the rise per level distance; uphill is positive.
	GradePercent float64 `json:"grade_percent,omitempty"`
	// Rolling is the coefficient of rolling resistance.
	Rolling float64 `json:"rolling,omitempty"`
	// Brakes are brake forces at the tires of single wheels, in newtons, put
	// on to give a spinning wheel something to push against.
	Brakes map[string]float64 `json:"brakes,omitempty"`
	// TorqueNM is the greatest torque at the input; the engine's if left out.
	TorqueNM float64 `json:"torque_nm,omitempty"`
}

// WheelForce is what one wheel does.
type WheelForce struct {
	Part    string  `json:"part"`
	Name    string  `json:"name"`
	LoadN   float64 `json:"load_n"`
	Grip    float64 `json:"grip"`
	LimitN  float64 `json:"limit_n"` // load × grip
	ForceN  float64 `json:"force_n"` // at the greatest total; negative where it pushes or drags backward
	Slips   bool    `json:"slips"`   // at its limit then
	Words   string  `json:"words"`
	Formula string  `json:"formula"`
}

// Traction is the greatest drive force and what limits it.
type Traction struct {
	TotalN float64      `json:"total_n"`
	Wheels []WheelForce `json:"wheels"`
	// First is the wheel that gives up first as the torque grows, at a total
	// drive force of FirstN; empty where all driven wheels give up together.
	First  string   `json:"first,omitempty"`
	FirstN float64  `json:"first_n"`
	Steps  []string `json:"steps"`
	// InputNM is the input torque at the greatest total; EngineNM what there
	// is of it, 0 where it isn't known; Limited by grip or engine.
	InputNM  float64 `json:"input_nm"`
	EngineNM float64 `json:"engine_nm,omitempty"`
	Limited  string  `json:"limited"`
	// NeedN is what the grade and rolling resistance ask, MaxGrade the
	// steepest grade (in %) that this grip and engine climb.
	NeedN    float64  `json:"need_n"`
	Climbs   bool     `json:"climbs"`
	MaxGrade *float64 `json:"max_grade_percent,omitempty"`
	Sentence string   `json:"sentence"`
	Unknown  []string `json:"unknown,omitempty"` // ratios that the input torque hangs on
	Formula  string   `json:"formula"`

	splitter *node // what ties First to the others
	held     bool  // a driven wheel is held
	brakes   []string
}

// node is a place where torque is split, or a wheel. Torques are in newton
// meters at the node's own shaft.
type node struct {
	part   *Part
	ratio  float64 // node torque × ratio = torque at the children (or the tire)
	kids   []*node
	share  []float64 // fixed shares of an open split; nil where grip splits
	bias   float64   // limited slip: the other side may carry this many times the slower
	across float64   // limited slip: the sides may differ by this much, whatever passes
	slip   string    // how it limits
	wheel  *Part
	radius float64
	limit  float64 // of the tire, N
	brake  float64 // N at the tire
	held   bool
	most   float64 // greatest torque
	drag   float64 // of it, what the brakes take first
}

// capacity is the greatest torque that a node takes up. Every subtree can take
// any torque from zero to its own greatest, so the tree is solved from the
// wheels inward: shares fix an open split by its weaker side, a lock adds both
// sides, a limited slip lets the stronger side carry bias times the weaker, or
// as much more as its preload or its fluid carries across. That of a helical
// one needs a weaker side that bears something; a preload doesn't.
func (n *node) capacity() {
	for _, k := range n.kids {
		k.capacity()
	}
	if n.wheel != nil {
		n.most, n.drag = (n.limit+n.brake)*n.radius, n.brake*n.radius
		if n.held {
			n.most, n.drag = math.Inf(1), 0
		}
		return
	}
	n.most = n.combined() / n.ratio
	for _, k := range n.kids {
		n.drag += k.drag / n.ratio
	}
	n.drag = math.Min(n.drag, n.most)
}

// combined is the greatest torque that the children take up together.
func (n *node) combined() float64 {
	switch {
	case len(n.kids) == 0:
		return 0
	case len(n.kids) == 1:
		return n.kids[0].most
	case n.share != nil && n.bias > 0:
		a, b := n.kids[0].most, n.kids[1].most
		low, high := math.Min(a, b), math.Max(a, b)
		return low + math.Min(high, math.Max(n.bias*low, low+n.across))
	case n.share != nil:
		most := math.Inf(1)
		for i, k := range n.kids {
			most = math.Min(most, k.most/n.share[i])
		}
		return most
	}
	sum := 0.0
	for _, k := range n.kids {
		sum += k.most
	}
	return sum
}

// spread sends a torque down to the wheels; forces gets what each tire does:
// its torque less what the brake takes, within its grip. A tire whose brake
// takes more than arrives drags.
func (n *node) spread(torque float64, forces map[string]float64) {
	if n.wheel != nil {
		f := torque/n.radius - n.brake
		if n.held {
			f = 0
		}
		forces[n.wheel.ID] = math.Max(-n.limit, math.Min(f, n.limit))
		return
	}
	t := torque * n.ratio
	switch {
	case len(n.kids) == 0:
	case len(n.kids) == 1:
		n.kids[0].spread(t, forces)
	case n.share != nil && n.bias > 0:
		a, b := t/2, t/2
		if a > n.kids[0].most {
			a, b = n.kids[0].most, t-n.kids[0].most
		} else if b > n.kids[1].most {
			a, b = t-n.kids[1].most, n.kids[1].most
		}
		n.kids[0].spread(a, forces)
		n.kids[1].spread(b, forces)
	case n.share != nil:
		for i, k := range n.kids {
			k.spread(t*n.share[i], forces)
		}
	default:
		// Grip decides. Brakes take theirs first, the rest goes to each in
		// proportion to what its tires can take.
		drag, grip := 0.0, 0.0
		for _, k := range n.kids {
			if math.IsInf(k.most, 1) {
				k.spread(t, forces)
				return
			}
			drag += k.drag
			grip += k.most - k.drag
		}
		first := math.Min(t, drag)
		for _, k := range n.kids {
			x := 0.0
			if drag > 0 {
				x = first * k.drag / drag
			}
			if grip > 0 {
				x += (t - first) * (k.most - k.drag) / grip
			}
			k.spread(x, forces)
		}
	}
}

// tree builds the nodes behind an output of a part.
func (m *machine) tree(port string, loads map[string]float64, g *Grip, missing *[]string) *node {
	for i := range m.doc.Parts {
		p := &m.doc.Parts[i]
		if p.From == port {
			return m.treeAt(p, loads, g, missing)
		}
	}
	return &node{ratio: 1} // an open end takes up nothing
}

func (m *machine) treeAt(p *Part, loads map[string]float64, g *Grip, missing *[]string) *node {
	r, known, open := m.ratio(p)
	n := &node{part: p, ratio: r.Abs().Float()}
	if !known {
		n.ratio = 1
		*missing = append(*missing, say.Small(p.name()))
	}
	if open {
		n.ratio = 1
		return n
	}
	if p.Kind == "wheel" {
		m.grounded(n, p, loads, g)
		return n
	}
	for _, port := range p.ports() {
		key := p.ID
		if port != "" {
			key += "." + port
		}
		if port == "front" && p.Kind == "transfer_case" {
			continue
		}
		n.kids = append(n.kids, m.tree(key, loads, g, missing))
	}
	switch p.Kind {
	case "axle":
		m.axleShares(n, p)
	case "differential":
		switch d := p.Differential; {
		case m.locked(p, "lock"):
		case d.Type == "limited_slip":
			n.limited(evenly, d.LimitedSlip)
		case d.Type == "planetary" && d.Ring > 0:
			n.share = unevenly(d.Ring, d.Sun)
		default:
			n.share = evenly
		}
	case "transfer_case":
		m.caseShares(n, p, loads, g, missing)
	}
	return n
}

// evenly is how a bevel differential shares torque.
var evenly = []float64{0.5, 0.5}

// unevenly is how a planetary set shares torque: ring, then sun.
func unevenly(ring, sun int) []float64 {
	r := float64(ring) / float64(ring+sun)
	return []float64{r, 1 - r}
}

func (m *machine) locked(p *Part, local string) bool {
	s := m.selector(p.ID + "." + local)
	return s != nil && s.Value == "locked"
}

func (m *machine) free(p *Part, local string) bool {
	s := m.selector(p.ID + "." + local)
	return s != nil && s.Value == "free"
}

// grounded is what a wheel holds on to.
func (m *machine) grounded(n *node, p *Part, loads map[string]float64, g *Grip) {
	n.wheel, n.radius = p, travel(p).Float()/(2*math.Pi)
	n.brake = g.Brakes[p.ID]
	switch m.wheelState(p) {
	case lifted:
	case held:
		n.held = true
	case onIce:
		n.limit = loads[p.ID] * math.Min(m.grip(p, g), iceGrip)
	default:
		n.limit = loads[p.ID] * m.grip(p, g)
	}
}

// axleShares is how an axle shares torque between its sides.
func (m *machine) axleShares(n *node, p *Part) {
	if m.free(p, "hubs") {
		n.kids = nil
		return
	}
	switch d := p.Axle.Differential; {
	case d.Type == "spool", m.locked(p, "lock"):
	case d.Type == "limited_slip":
		n.limited(evenly, d.LimitedSlip)
	default:
		n.share = evenly
	}
	if m.free(p, "side") {
		loose := 0
		if p.Axle.Disconnect == "right" {
			loose = 1
		}
		n.kids[loose] = &node{ratio: 1}
	}
}

// caseShares puts the front drive below a transfer case, and says how its
// center shares torque.
func (m *machine) caseShares(n *node, p *Part, loads map[string]float64, g *Grip, missing *[]string) {
	t := p.TransferCase
	if t.Front.Type == "none" || m.selected(p.ID+".center") == "two_wheel" {
		return
	}
	f, ok := t.Front.ratio()
	front := &node{part: p, ratio: f.Float(), kids: []*node{m.tree(p.ID+".front", loads, g, missing)}}
	if !ok {
		front.ratio = 1
		*missing = append(*missing, "front drive of the "+say.Small(p.name()))
	}
	n.kids = append(n.kids, front)
	switch c := t.Center; {
	case c.Type == "solid", m.locked(p, "center"):
	case c.Type == "limited_slip":
		n.limited(evenly, c.LimitedSlip)
	case c.Type == "planetary" && c.Ring > 0:
		n.share = unevenly(c.Ring, c.Sun)
		if c.RingTo == "front" {
			slices.Reverse(n.share)
		}
	default:
		n.share = evenly
	}
}

func (n *node) limited(share []float64, l LimitedSlip) {
	n.share, n.slip = share, l.Slip
	n.bias, n.across = l.carries()
}

// biasOf is a bias ratio; 2.5 is typical where it isn't known.
func biasOf(b float64) float64 {
	if b < 1 {
		return 2.5
	}
	return b
}

func (m *machine) grip(p *Part, g *Grip) float64 {
	if v, ok := g.Wheels[p.ID]; ok {
		return v
	}
	return g.Default
}

// loads are the wheel loads on a grade: statics about the tires' contacts,
// N_rear = m·g·(cos α·a + sin α·h)/L with a the front-axle distance of the
// center of gravity (Gillespie, Fundamentals of Vehicle Dynamics).
func (m *machine) loads(g *Grip) (map[string]float64, string, error) {
	out := map[string]float64{}
	var front, rear []*Part
	for i := range m.doc.Parts {
		p := &m.doc.Parts[i]
		if p.Kind != "wheel" {
			continue
		}
		if p.Wheel.At == "front" {
			front = append(front, p)
		} else {
			rear = append(rear, p)
		}
	}
	formula := "wheel loads as given"
	b := m.doc.Body
	measured := true
	for _, p := range append(front[:len(front):len(front)], rear...) {
		if _, ok := g.LoadsN[p.ID]; !ok {
			measured = false
		}
	}
	if !measured {
		if b == nil || b.MassKG == 0 {
			return nil, "", fault.New("grip/loads_n", "give every wheel's load, or the body's mass and its part on the front axle")
		}
		share := b.FrontPercent / 100
		if share == 0 {
			share = 0.5
		}
		α := math.Atan(g.GradePercent / 100)
		h := b.HeightMM / m.doc.wheelbase()
		w := b.MassKG * Gravity
		nf := w * (math.Cos(α)*share - math.Sin(α)*h)
		nr := w * (math.Cos(α)*(1-share) + math.Sin(α)*h)
		if nf < 0 || nr < 0 {
			return nil, "", fault.New("grip/grade_percent", "on this grade the vehicle would tip over")
		}
		formula = fmt.Sprintf("front axle %s kg × %.5f m/s² × (cos α × %s − sin α × %s) = %s N, rear %s N; α = atan(%s %%)",
			say.Trim(b.MassKG, 0), Gravity, say.Trim(share, 3), say.Trim(h, 3), say.Trim(nf, 0), say.Trim(nr, 0), say.Trim(g.GradePercent, 1))
		for _, p := range front {
			out[p.ID] = nf / float64(max(len(front), 1))
		}
		for _, p := range rear {
			out[p.ID] = nr / float64(max(len(rear), 1))
		}
	}
	for id, v := range g.LoadsN {
		out[id] = v
	}
	return out, formula, nil
}

func (g *Grip) check(m *machine) error {
	var errs fault.Errors
	wheel := func(list, id string) {
		if p := m.part(id); p == nil || p.Kind != "wheel" {
			errs.Add("grip/"+list+"/"+id, "there is no such wheel")
		}
	}
	for id, v := range g.Wheels {
		wheel("wheels", id)
		if !(v >= 0 && v <= 2) {
			errs.Add("grip/wheels/"+id, "a coefficient of grip is from 0 to 2 (ice 0.1, wet clay 0.3, gravel 0.6, dry pavement 0.8)")
		}
	}
	for id, v := range g.LoadsN {
		wheel("loads_n", id)
		if !(v >= 0 && v <= 1e6) {
			errs.Add("grip/loads_n/"+id, "from 0 to 1,000,000 N")
		}
	}
	for id, v := range g.Brakes {
		wheel("brakes", id)
		if !(v >= 0 && v <= 1e6) {
			errs.Add("grip/brakes/"+id, "from 0 to 1,000,000 N at the tire")
		}
	}
	if !(g.Default >= 0 && g.Default <= 2) {
		errs.Add("grip/default", "a coefficient of grip is from 0 to 2")
	}
	if !(g.GradePercent >= -100 && g.GradePercent <= 150) {
		errs.Add("grip/grade_percent", "from -100 to 150 %%; 100 %% is 45 degrees")
	}
	if !(g.Rolling >= 0 && g.Rolling <= 1) {
		errs.Add("grip/rolling", "from 0 to 1; a road asks about 0.012, sand 0.2")
	}
	if !(g.TorqueNM >= 0 && g.TorqueNM <= 1e6) {
		errs.Add("grip/torque_nm", "from 0 to 1,000,000 N·m")
	}
	return errs.Err()
}

// Pull finds the greatest total drive force in a state. The document must have
// passed Check.
func Pull(d *Document, s State, g Grip) (*Traction, error) {
	m := build(d, &s)
	if err := m.checkState(&s); err != nil {
		return nil, err
	}
	if err := g.check(m); err != nil {
		return nil, err
	}
	if d.Lies != Vehicle {
		return nil, fault.New("driveline/lies", "traction is asked of a vehicle")
	}
	t, err := m.pull(&g)
	if err != nil {
		return nil, err
	}
	t.MaxGrade = m.steepest(g)
	return t, nil
}

// steepest is the steepest grade that is climbed, by halving.
func (m *machine) steepest(g Grip) *float64 {
	climbs := func(grade float64) bool {
		g.GradePercent = grade
		t, err := m.pull(&g)
		return err == nil && t.TotalN >= t.NeedN-1e-9
	}
	if m.doc.Body == nil || m.doc.Body.MassKG == 0 || len(g.LoadsN) > 0 || !climbs(0) {
		return nil
	}
	lo, hi := 0.0, 150.0
	for range 40 {
		if mid := (lo + hi) / 2; climbs(mid) {
			lo = mid
		} else {
			hi = mid
		}
	}
	return &lo
}

func (m *machine) pull(g *Grip) (*Traction, error) {
	loads, formula, err := m.loads(g)
	if err != nil {
		return nil, err
	}
	out := &Traction{Wheels: []WheelForce{}, Steps: []string{}, Formula: formula}
	var root *Part
	for i := range m.doc.Parts {
		if m.doc.Parts[i].From == "" {
			root = &m.doc.Parts[i]
		}
	}
	tree := m.treeAt(root, loads, g, &out.Unknown)
	tree.capacity()
	most := tree.most
	out.EngineNM = g.TorqueNM
	if out.EngineNM == 0 && root.Engine != nil {
		out.EngineNM = root.Engine.TorqueNM
	}
	// A torque that hangs on an unknown ratio is no torque to compare with.
	if len(out.Unknown) > 0 {
		out.EngineNM = 0
	}
	torque := most
	out.Limited = "grip"
	if out.EngineNM > 0 && out.EngineNM < most {
		torque, out.Limited = out.EngineNM, "engine"
	}
	if math.IsInf(torque, 1) {
		torque, out.Limited = 0, "held"
	}
	forces, backward := m.signedForces(tree, torque, loads, g)
	for _, f := range forces {
		out.TotalN += f
	}
	out.InputNM = torque
	m.firstToSlip(tree, most, loads, g, out)
	for i := range m.doc.Parts {
		p := &m.doc.Parts[i]
		if p.Kind != "wheel" {
			continue
		}
		if b := g.Brakes[p.ID]; b > 0 {
			out.brakes = append(out.brakes, fmt.Sprintf("%s %s kN", say.Small(p.name()), say.Trim(b/1000, 2)))
		}
		w := m.wheelForce(p, g, loads[p.ID], forces[p.ID])
		w.Slips = w.Words == "" && tree.drives(p) && math.Abs(w.ForceN) >= w.LimitN*(1-1e-9) && out.Limited == "grip"
		w.tell(backward[p.ID])
		out.Wheels = append(out.Wheels, w)
	}
	weight := 0.0
	if b := m.doc.Body; b != nil && b.MassKG > 0 {
		weight = b.MassKG * Gravity
	} else {
		for _, v := range loads {
			weight += v
		}
		out.Formula += ", " + say.Trim(weight, 0) + " N in all, which is the weight"
	}
	α := math.Atan(g.GradePercent / 100)
	out.NeedN = weight*math.Sin(α) + g.Rolling*weight*math.Cos(α)
	out.Climbs = out.TotalN >= out.NeedN
	m.tellTraction(out)
	return out, nil
}

// iceGrip is the most that ice holds.
const iceGrip = 0.05

// wheelForce is what a wheel is asked for and what it could hold.
func (m *machine) wheelForce(p *Part, g *Grip, load, force float64) WheelForce {
	μ := m.grip(p, g)
	w := WheelForce{Part: p.ID, Name: p.name(), LoadN: load, Grip: μ, LimitN: load * μ, ForceN: force}
	w.Formula = fmt.Sprintf("%s N × %s = %s N at most", say.Trim(w.LoadN, 0), say.Trim(μ, 3), say.Trim(w.LimitN, 0))
	switch m.wheelState(p) {
	case lifted:
		w.LimitN, w.Words = 0, "off the ground"
	case held:
		w.Words = "held"
	case onIce:
		w.LimitN = load * math.Min(μ, iceGrip)
		w.Formula = fmt.Sprintf("%s N × %s = %s N at most", say.Trim(w.LoadN, 0), say.Trim(math.Min(μ, iceGrip), 3), say.Trim(w.LimitN, 0))
	}
	return w
}

// tell says what the wheel does.
func (w *WheelForce) tell(backward bool) {
	switch {
	case w.Words != "":
	case backward && w.ForceN != 0:
		w.Words = "driven backward: pushes against the others"
	case w.ForceN < 0:
		w.Words = "its brake drags"
	case w.Slips && w.LimitN == 0:
		w.Words = "spins, no grip"
	case w.Slips:
		w.Words = "at its limit: slips"
	case w.ForceN == 0:
		w.Words = "not driven"
	default:
		w.Words = fmt.Sprintf("holds, %s %% of its limit", say.Trim(100*w.ForceN/math.Max(w.LimitN, 1e-9), 0))
	}
}

// drives is whether a wheel hangs on the tree.
func (n *node) drives(p *Part) bool {
	if n.wheel == p {
		return true
	}
	return slices.ContainsFunc(n.kids, func(k *node) bool { return k.drives(p) })
}

// signedForces is what every wheel does at an input torque, positive the way
// that the vehicle is driven as a whole: an axle that drives the other way
// counts backward, and brakes of wheels that aren't driven drag.
func (m *machine) signedForces(tree *node, torque float64, loads map[string]float64, g *Grip) (forces map[string]float64, backward map[string]bool) {
	forces, backward = map[string]float64{}, map[string]bool{}
	tree.spread(torque, forces)
	senses := m.sensesOf()
	ahead := 0.0
	for id, f := range forces {
		if f > 0 {
			ahead += f * float64(senses[id+".wheel"])
		}
	}
	way := 1
	if ahead < 0 {
		way = -1
	}
	for id := range forces {
		if senses[id+".wheel"]*way < 0 {
			backward[id] = true
			if forces[id] > 0 { // a brake drags against any way of rolling
				forces[id] = -forces[id]
			}
		}
	}
	for i := range m.doc.Parts {
		p := &m.doc.Parts[i]
		if _, driven := forces[p.ID]; p.Kind == "wheel" && !driven && g.Brakes[p.ID] > 0 && m.wheelState(p) != lifted {
			forces[p.ID] = -math.Min(g.Brakes[p.ID], loads[p.ID]*m.grip(p, g))
		}
	}
	return forces, backward
}

// firstToSlip raises the torque from zero until one tire is at its limit.
func (m *machine) firstToSlip(tree *node, most float64, loads map[string]float64, g *Grip, out *Traction) {
	if math.IsInf(most, 1) {
		return
	}
	limits := map[string]float64{}
	wheels := 0
	var walk func(n *node)
	walk = func(n *node) {
		if n.wheel != nil {
			wheels++
			if !n.held {
				limits[n.wheel.ID] = n.limit
			}
		}
		for _, k := range n.kids {
			walk(k)
		}
	}
	walk(tree)
	at := func(t float64) ([]string, float64) {
		f, _ := m.signedForces(tree, t, loads, g)
		sum := 0.0
		var who []string
		for i := range m.doc.Parts {
			id := m.doc.Parts[i].ID
			sum += f[id]
			if limit, ok := limits[id]; ok && math.Abs(f[id]) >= limit*(1-1e-9) && (f[id] > 0 || limit == 0 || m.sensesOf()[id+".wheel"] < 0) {
				who = append(who, id)
			}
		}
		return who, sum
	}
	lo, hi := 0.0, most
	for range 60 {
		mid := (lo + hi) / 2
		if who, _ := at(mid); who != nil {
			hi = mid
		} else {
			lo = mid
		}
	}
	who, sum := at(hi)
	out.FirstN = sum
	if len(who) > 0 && len(who) < wheels {
		out.First = who[0]
		out.splitter = tree.above(m.part(who[0]))
	}
	out.held = wheels > len(limits)
}

// above is the split nearest to the root that ties a wheel's torque to that of
// other wheels: open, or a limited slip. Nil where locks leave it to grip.
func (n *node) above(p *Part) *node {
	if !n.drives(p) {
		return nil
	}
	if n.share != nil && len(n.kids) > 1 {
		return n
	}
	for _, k := range n.kids {
		if s := k.above(p); s != nil {
			return s
		}
	}
	return nil
}
