package findfault

import (
	"math"
	"slices"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/driveline/trace"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// ShockQuestion is a wheel that spins and grips again.
type ShockQuestion struct {
	Driveline driveline.Document `json:"driveline"`
	State     driveline.State    `json:"state,omitzero"` // gear, range, locks
	Wheel     string             `json:"wheel"`          // the wheel that grips
	// Spins are the wheels that spin with it; only they are off the ground in the
	// model.
	Spins    []string `json:"spins,omitempty"`
	RPM      float64  `json:"rpm"`                 // of that wheel while it spins
	ToRPM    float64  `json:"to_rpm,omitempty"`    // that the road asks of it
	StopS    float64  `json:"stop_s,omitempty"`    // until it grips wholly
	Inertia  float64  `json:"inertia,omitempty"`   // kg·m² at the input: crank, flywheel, clutch
	ClutchNM float64  `json:"clutch_nm,omitempty"` // at which the clutch slips
	EngineNM float64  `json:"engine_nm,omitempty"` // that the engine gives meanwhile
}

// Loaded is one part in the way of the shock.
type Loaded struct {
	Part  string  `json:"part"`
	Name  string  `json:"name"`
	NM    float64 `json:"nm"`
	Rated float64 `json:"rated_nm,omitempty"`
	Used  float64 `json:"used,omitempty"` // of the rating
	Text  string  `json:"text"`
}

// ShockAnswer says what the shock does to each part in its way.
type ShockAnswer struct {
	Sentence string   `json:"sentence"`
	InputNM  float64  `json:"input_nm"`
	Slips    bool     `json:"slips"` // the clutch gives way
	Loaded   []Loaded `json:"loaded"`
	Typical  []string `json:"typical"`
	Cautions []string `json:"cautions"`
}

// Typical figures of a shock.
const (
	typicalStop     = 0.1  // s on ground that grips
	typicalInertia  = 0.25 // kg·m², engine of a light truck with its flywheel
	typicalReserve  = 1.8  // a clutch holds so many times the engine's torque
	mostSpinningRPM = 10000
)

// Shock works out the torque by which a spinning wheel that grips again stops
// what turns behind it: J·Δω/Δt at the input (Newton), and by virtual work its
// multiple at every shaft on the way to that wheel. Ratings are those entered
// with the parts.
func Shock(q ShockQuestion) (*ShockAnswer, error) {
	if err := fault.Figures(q); err != nil {
		return nil, err
	}
	if err := q.Driveline.Check(); err != nil {
		return nil, fault.Under("driveline", err)
	}
	a := &ShockAnswer{Loaded: []Loaded{}, Typical: []string{}, Cautions: []string{"Off the throttle before it grips; spinning and gripping again is what shears the smallest part."}}
	t, err := q.check(a)
	if err != nil {
		return nil, err
	}
	var way []trace.Step
	for _, o := range t.Outputs {
		if o.Part == q.Wheel {
			way = o.Path
		}
	}
	speed := map[string]float64{}
	for _, sh := range t.Shafts {
		if sh.Speed != nil {
			speed[sh.ID] = math.Abs(sh.Speed.Float())
		}
	}
	wheel := speed[q.Wheel+".wheel"]
	if wheel == 0 || len(way) == 0 {
		return nil, fault.New("wheel", "in this state power does not turn that wheel alone at a ratio that is known; behind an open differential a mate that spins too takes the shock up")
	}
	drop := (q.RPM - q.ToRPM) / wheel * 2 * math.Pi / 60
	a.InputNM = q.Inertia*drop/q.StopS + q.EngineNM
	if q.ClutchNM > 0 && a.InputNM > q.ClutchNM {
		a.InputNM, a.Slips = q.ClutchNM, true
	}
	q.load(a, way, speed)
	a.say(&q)
	a.InputNM = say.Round(a.InputNM, 0)
	return a, nil
}

// check refuses what can't be, puts in what is typical, and traces the state.
func (q *ShockQuestion) check(a *ShockAnswer) (*trace.Trace, error) {
	var errs fault.Errors
	if !(q.RPM > 0 && q.RPM <= mostSpinningRPM) {
		errs.Add("rpm", "above 0, to 10,000 rpm of the wheel")
	}
	if !(q.ToRPM >= 0 && q.ToRPM < q.RPM) {
		errs.Add("to_rpm", "from 0 to below what it spins at")
	}
	usual := func(v *float64, field, words, unit string, typical, least, most float64) {
		if *v == 0 && typical > 0 {
			*v = typical
			a.Typical = append(a.Typical, words+" "+say.Trim(typical, 2)+" "+unit)
			return
		}
		if !(*v >= least && *v <= most) {
			errs.Add(field, "from %s to %s %s", say.Trim(least, 3), say.Trim(most, 0), unit)
		}
	}
	usual(&q.StopS, "stop_s", "grips wholly within", "s", typicalStop, 0.005, 10)
	usual(&q.Inertia, "inertia", "crank, flywheel and clutch", "kg·m²", typicalInertia, 0.001, 1000)
	engine := q.Driveline.EngineNM()
	var wheels []string
	for _, p := range q.Driveline.Parts {
		if p.Has(driveline.Pedal) && p.RatedNM > 0 && q.ClutchNM == 0 {
			q.ClutchNM = p.RatedNM
		}
		if p.Has(driveline.RoadWheel) {
			wheels = append(wheels, p.ID)
		}
	}
	usual(&q.ClutchNM, "clutch_nm", "the clutch slips at", "N·m", typicalReserve*engine, 0, 1e6)
	usual(&q.EngineNM, "engine_nm", "", "N·m", 0, 0, 1e6)
	for i, w := range append([]string{q.Wheel}, q.Spins...) {
		if !slices.Contains(wheels, w) {
			errs.Add([]string{"wheel", "spins"}[min(i, 1)], "a wheel of this driveline: %s", say.Clip(strings.Join(wheels, ", "), 300))
		}
	}
	if err := errs.Err(); err != nil {
		return nil, err
	}
	st := q.State
	st.Input, st.Wheels = nil, map[string]string{}
	for _, w := range append([]string{q.Wheel}, q.Spins...) {
		st.Wheels[w] = "lifted"
	}
	t, err := trace.Run(&q.Driveline, st, trace.Want{})
	if err != nil {
		return nil, err
	}
	if len(t.Binds) > 0 {
		return nil, fault.New("spins", "so it does not turn: with these locks other wheels spin too")
	}
	return t, nil
}

// load puts the shock on every part in its way.
func (q *ShockQuestion) load(a *ShockAnswer, way []trace.Step, speed map[string]float64) {
	parts := map[string]*driveline.Part{}
	for i := range q.Driveline.Parts {
		parts[q.Driveline.Parts[i].ID] = &q.Driveline.Parts[i]
	}
	in := "" // the shaft before this step
	last := ""
	add := func(p *driveline.Part, name string, s, rated float64) {
		if s == 0 {
			return
		}
		nm := a.InputNM / s
		l := Loaded{Part: p.ID, Name: name, NM: say.Round(nm, 0), Rated: rated}
		l.Text = loadText(a, s, nm)
		if rated > 0 {
			l.Used = say.Round(nm/rated, 3)
			l.Text += rating(rated)
		} else {
			l.Text += "; no rating entered"
		}
		a.Loaded = append(a.Loaded, l)
	}
	for _, step := range way {
		p := parts[step.Part]
		if p != nil && p.ID != last && p.Traits().Axis != "" && p.Traits().End == "" {
			s := 1.0
			if in != "" {
				s = speed[in]
			}
			add(p, p.Called(), s, p.RatedNM)
			last = p.ID
		}
		for _, stub := range q.Driveline.StubRatings() {
			if stub.Shaft == step.Shaft {
				add(p, driveline.Of(p, "stub"), speed[step.Shaft], stub.NM)
			}
		}
		in = step.Shaft
	}
}
