// Package grip finds the greatest drive force that the ground and the engine
// allow, and which wheel gives up first.
//
// The driveline is a tree of splits down to the tires (tree.go). Every subtree
// takes up any torque from zero to its own greatest, so the tree is solved from
// the wheels inward in one pass, and the torque is spread outward in another:
// exact for open, limited and locked splits, in time linear in the parts.
package grip

import (
	"fmt"
	"math"

	"zorvel/core/driveline"
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

// ground is a machine on the ground.
type ground struct{ *driveline.Machine }

func (m *ground) grip(p *driveline.Part, g *Grip) float64 {
	if v, ok := g.Wheels[p.ID]; ok {
		return v
	}
	return g.Default
}

// loads are the wheel loads on a grade: statics about the tires' contacts,
// N_rear = m·g·(cos α·a + sin α·h)/L with a the front-axle distance of the
// center of gravity (Gillespie, Fundamentals of Vehicle Dynamics).
func (m *ground) loads(g *Grip) (map[string]float64, string, error) {
	out := map[string]float64{}
	var front, rear []*driveline.Part
	for i := range m.Doc.Parts {
		p := &m.Doc.Parts[i]
		if p.Wheel == nil {
			continue
		}
		if p.Wheel.At == "front" {
			front = append(front, p)
		} else {
			rear = append(rear, p)
		}
	}
	formula := "wheel loads as given"
	b := m.Doc.Body
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
		h := b.HeightMM / m.Doc.WheelbaseMM()
		w := b.MassKG * Gravity
		nf := w * (math.Cos(α)*share - math.Sin(α)*h)
		nr := w * (math.Cos(α)*(1-share) + math.Sin(α)*h)
		if nf < 0 || nr < 0 {
			return nil, "", fault.New("grip/grade_percent", "the vehicle would tip over on this grade")
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

func (g *Grip) check(m *driveline.Machine) error {
	var errs fault.Errors
	wheel := func(list, id string) {
		if p := m.Part(id); p == nil || p.Wheel == nil {
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
func Pull(d *driveline.Document, s driveline.State, g Grip) (*Traction, error) {
	if err := fault.Figures(g); err != nil {
		return nil, fault.Under("grip", err)
	}
	m := driveline.Build(d, &s)
	if err := m.CheckState(&s); err != nil {
		return nil, err
	}
	if err := g.check(m); err != nil {
		return nil, err
	}
	if d.Lies != driveline.Vehicle {
		return nil, fault.New("driveline/lies", "traction is asked of a vehicle")
	}
	on := &ground{m}
	t, err := on.pull(&g)
	if err != nil {
		return nil, err
	}
	t.MaxGrade = on.steepest(g)
	return t, nil
}

// steepest is the steepest grade that is climbed, by halving.
func (m *ground) steepest(g Grip) *float64 {
	climbs := func(grade float64) bool {
		g.GradePercent = grade
		t, err := m.pull(&g)
		return err == nil && t.TotalN >= t.NeedN-1e-9
	}
	if m.Doc.Body == nil || m.Doc.Body.MassKG == 0 || len(g.LoadsN) > 0 || !climbs(0) {
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

func (m *ground) pull(g *Grip) (*Traction, error) {
	loads, formula, err := m.loads(g)
	if err != nil {
		return nil, err
	}
	out := &Traction{Wheels: []WheelForce{}, Steps: []string{}, Formula: formula}
	var root *driveline.Part
	for i := range m.Doc.Parts {
		if m.Doc.Parts[i].From == "" {
			root = &m.Doc.Parts[i]
		}
	}
	tree := m.treeAt(root, loads, g, &out.Unknown)
	tree.capacity()
	most := tree.most
	out.EngineNM = g.TorqueNM
	if out.EngineNM == 0 {
		out.EngineNM = m.Doc.EngineNM()
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
	for i := range m.Doc.Parts {
		p := &m.Doc.Parts[i]
		if p.Wheel == nil {
			continue
		}
		if b := g.Brakes[p.ID]; b > 0 {
			out.brakes = append(out.brakes, fmt.Sprintf("%s %s kN", say.Small(p.Called()), say.Trim(b/1000, 2)))
		}
		w := m.wheelForce(p, g, loads[p.ID], forces[p.ID])
		w.Slips = w.Words == "" && tree.drives(p) && math.Abs(w.ForceN) >= w.LimitN*(1-1e-9) && out.Limited == "grip"
		w.tell(backward[p.ID])
		out.Wheels = append(out.Wheels, w)
	}
	weight := 0.0
	if b := m.Doc.Body; b != nil && b.MassKG > 0 {
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
func (m *ground) wheelForce(p *driveline.Part, g *Grip, load, force float64) WheelForce {
	μ := m.grip(p, g)
	w := WheelForce{Part: p.ID, Name: p.Called(), LoadN: load, Grip: μ, LimitN: load * μ, ForceN: force}
	w.Formula = fmt.Sprintf("%s N × %s = %s N at most", say.Trim(w.LoadN, 0), say.Trim(μ, 3), say.Trim(w.LimitN, 0))
	switch m.WheelState(p) {
	case driveline.Lifted:
		w.LimitN, w.Words = 0, "off the ground"
	case driveline.Held:
		w.Words = "held"
	case driveline.OnIce:
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

// signedForces is what every wheel does at an input torque, positive the way
// that the vehicle is driven as a whole: an axle that drives the other way
// counts backward, and brakes of wheels that aren't driven drag.
func (m *ground) signedForces(tree *node, torque float64, loads map[string]float64,
	g *Grip) (forces map[string]float64, backward map[string]bool) {
	forces, backward = map[string]float64{}, map[string]bool{}
	tree.spread(torque, forces)
	senses := m.Senses()
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
	for i := range m.Doc.Parts {
		p := &m.Doc.Parts[i]
		if _, driven := forces[p.ID]; p.Wheel != nil && !driven && g.Brakes[p.ID] > 0 && m.WheelState(p) != driveline.Lifted {
			forces[p.ID] = -math.Min(g.Brakes[p.ID], loads[p.ID]*m.grip(p, g))
		}
	}
	return forces, backward
}

// firstToSlip raises the torque from zero until one tire is at its limit.
func (m *ground) firstToSlip(tree *node, most float64, loads map[string]float64, g *Grip, out *Traction) {
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
		for i := range m.Doc.Parts {
			id := m.Doc.Parts[i].ID
			sum += f[id]
			if limit, ok := limits[id]; ok && math.Abs(f[id]) >= limit*(1-1e-9) && (f[id] > 0 || limit == 0 || m.Senses()[id+".wheel"] < 0) {
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
		out.splitter = tree.above(m.Part(who[0]))
	}
	out.held = wheels > len(limits)
}
