// Package play says where the free play of a driveline sits: the play of every
// mesh, spline and clutch passes through the driveline's own equations to the
// shafts that were rocked by hand, and what was measured there weighs it back
// onto the places.
//
// Play is a linear problem: with c the play of each place and f how much of it
// shows at a shaft (network.Rock), the shaft rocks by f·c. The places start as
// usual for their kind, half of that as spread, and each measurement conditions
// all of them at once (Gaussian prior and error; weigh.go).
package play

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/driveline/network"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// Bounds of a question about free play; the contract has the same.
const (
	MostRocked = 12
	MostPlays  = 60
)

// Question asks where the play of a driveline sits.
type Question struct {
	Driveline driveline.Document `json:"driveline"`
	State     driveline.State    `json:"state,omitzero"`    // levers, locks, wheels; a wheel on the ground is chocked
	Measured  []Rocked           `json:"measured"`          // the newest last
	Plays     []OwnPlay          `json:"plays,omitempty"`   // known better than by what is usual
	Suppose   []OwnPlay          `json:"suppose,omitempty"` // what would so much at that place show?
}

// Rocked is a shaft that was rocked by hand from stop to stop while others
// were held.
type Rocked struct {
	At       string   `json:"at"`                   // shaft
	Hold     []string `json:"hold,omitempty"`       // shafts and wheels held by hand
	Degrees  *float64 `json:"degrees,omitempty"`    // as measured; left out to see what is usual
	ArcMM    *float64 `json:"arc_mm,omitempty"`     // or as an arc on the rim
	RadiusMM float64  `json:"radius_mm,omitempty"`  // of that rim
	Repeat   float64  `json:"repeat_deg,omitempty"` // what hand and eye repeat to: 0.5 degrees if left out
}

// OwnPlay is the play of one place, at its own shaft.
type OwnPlay struct {
	Place   string  `json:"place"`
	Degrees float64 `json:"degrees"`
}

// Place is a mesh, spline or clutch that has play of its own.
type Place struct {
	ID      string  `json:"id"`
	Part    string  `json:"part"`
	Name    string  `json:"name"`
	At      string  `json:"at"` // the shaft at which its degrees count
	Usual   float64 `json:"usual_deg"`
	Own     float64 `json:"own_deg"` // as reckoned with before measuring
	Entered bool    `json:"entered"`
	// What the measurements leave: expected, and its standard deviation.
	Likely float64 `json:"likely_deg"`
	Sigma  float64 `json:"sigma_deg"`
	Word   string  `json:"word"` // usual, more than usual, or not seen
}

// Share is what a place shows at a shaft that is rocked.
type Share struct {
	Place  string  `json:"place"`
	Factor float64 `json:"factor"` // degrees seen per degree there
	Usual  float64 `json:"usual_deg"`
	Likely float64 `json:"likely_deg"`
}

// RockedOut is one measurement as it came out.
type RockedOut struct {
	At      string   `json:"at"`
	Name    string   `json:"name"`
	Hold    []string `json:"hold"`
	Bounded bool     `json:"bounded"`
	TwoWays bool     `json:"two_ways"` // held from both sides: the tighter decides
	Degrees *float64 `json:"degrees,omitempty"`
	From    string   `json:"from,omitempty"` // how an arc became degrees
	Usual   float64  `json:"usual_deg"`
	Spread  float64  `json:"spread_deg"` // two standard deviations of what is usual
	State   string   `json:"state"`      // usual, more, less, free or not_measured
	Shares  []Share  `json:"shares"`     // the greatest first
	Text    string   `json:"text"`
}

// Answer says where the play sits.
type Answer struct {
	Sentence string             `json:"sentence"`
	Measured []RockedOut        `json:"measured"`
	Places   []Place            `json:"places"`
	Parts    map[string]float64 `json:"parts"` // share of the newest measurement by part, 0 to 1
	Next     string             `json:"next,omitempty"`
	NextHold string             `json:"next_hold,omitempty"`
	Supposed []string           `json:"supposed"`
	Asks     []string           `json:"asks"`
	Schools  []string           `json:"schools"`
	Cautions []string           `json:"cautions"`
}

// Usual plays in degrees, at the shaft named with each: typical, and known as
// such. They scatter by half of themselves.
const (
	bevelPlay      = 0.15 // ring gear, at the ring
	spurPlay       = 0.3  // at the driven gear
	sidePlay       = 0.5  // differential, at each side gear
	planetPlay     = 0.4  // at the carrier
	splinePlay     = 0.4  // half shaft
	jointPlay      = 0.6  // drive shaft: two joints and a slip spline
	sleevePlay     = 1.0  // synchronizer sleeve
	spoolPlay      = 0.05
	dogPlay        = 2.5 // dogs of a range, a hub or a lock
	playScatter    = 0.5
	enteredScatter = 0.1 // of a play that was entered for this place
	usualRepeat    = 0.5
	mostHolds      = 16 // shafts that are tried as the next one to hold
)

var playSchools = []string{
	"Some take a few degrees at a flange as usual, and a quarter turn as too much; others allow none that can be felt.",
	"The maker's figure decides where there is one; otherwise compare with the same place on the other side.",
}

var playCautions = []string{
	"Chock the wheels, neutral only where it says so, brake off only when it can't roll.",
	"Rock from stop to stop by hand; no engine, nobody's fingers between flange and yoke.",
}

// source is a place of play on an element of the network.
type source struct {
	Place
	element int
	coeff   float64 // of its shaft in the element's equation
}

// sources lists every place that has play.
func sources(m *driveline.Machine) []source {
	var out []source
	add := func(k int, suffix, shaft, name string, usual float64, coeff float64) {
		e, j := m.Net.Elements[k], m.Joints[k]
		out = append(out, source{Place: Place{ID: e.ID + suffix, Part: j.Part.ID,
			Name: driveline.Of(j.Part, name), At: shaft, Usual: usual}, element: k, coeff: math.Abs(coeff)})
	}
	for k, e := range m.Net.Elements {
		j := m.Joints[k]
		if j.Part == nil {
			continue
		}
		switch e.Kind {
		case network.Mesh:
			words, _, _ := strings.Cut(j.Words, ",")
			coeff, usual, name := e.Ratio.Float(), spurPlay, words
			if e.Ratio.IsZero() {
				coeff = float64(e.TeethB)
			}
			if j.Bevel {
				usual, name = bevelPlay, "ring and pinion"
				if !strings.HasSuffix(e.ID, ".final") {
					name = "bevel gears"
				}
			}
			if e.Sense == network.Chain {
				usual, name = 2*spurPlay, "chain"
			}
			if e.B == "" {
				continue
			}
			add(k, "", e.B, name, usual, coeff)
		case network.Planetary:
			z := e.TeethSun + e.TeethRing
			if e.Paired {
				z = e.TeethSun - e.TeethRing
			}
			add(k, "", e.Carrier, "planetary set", planetPlay, float64(z))
		case network.Differential:
			add(k, ".left", e.Left, "left side gear", sidePlay, 1)
			add(k, ".right", e.Right, "right side gear", sidePlay, 1)
		case network.Coupling, network.Lock:
			if !e.Open {
				name, usual := clutchPlay(e, j)
				add(k, "", e.B, name, usual, 1)
			}
		}
	}
	return out
}

// clutchPlay is what plays in a coupling that is closed, by what it is.
func clutchPlay(e network.Element, j driveline.Joint) (string, float64) {
	local := strings.TrimPrefix(e.ID, j.Part.ID+".")
	switch {
	case j.Solid:
		return "spool", spoolPlay
	case e.Kind == network.Lock:
		return "locker dogs", dogPlay
	case local == "joint":
		return "joints and slip spline", jointPlay
	case local == "half shaft":
		return "axle shaft splines", splinePlay
	case local == "main":
		return "rear output spline", splinePlay
	case local == "hub":
		return "hub spline", sleevePlay
	case strings.Contains(j.Words, "synchronizer"):
		return driveline.GearWords(strings.TrimPrefix(local, "select ")) + " synchronizer sleeve", sleevePlay
	case strings.HasPrefix(local, "select "):
		return driveline.GearWords(strings.TrimPrefix(local, "select ")) + " dogs", dogPlay
	case strings.Contains(local, "dogs"), strings.Contains(local, "hub lock"), local == "disconnect":
		return local, dogPlay
	case local == "high", local == "low", local == "range":
		return local + " range sleeve", sleevePlay
	case strings.HasPrefix(local, "front"):
		return "front drive sleeve", sleevePlay
	}
	return "spline", splinePlay
}

// Work propagates the play of every mesh and spline to the shafts that were
// rocked, through the equations of the driveline, and says where it sits.
// Faults are fault.Errors with paths within the question.
func Work(q Question) (*Answer, error) {
	if err := fault.Figures(q); err != nil {
		return nil, err
	}
	d := &q.Driveline
	if err := d.Check(); err != nil {
		return nil, fault.Under("driveline", err)
	}
	var errs fault.Errors
	if len(q.Measured) == 0 || len(q.Measured) > MostRocked {
		errs.Add("measured", "from 1 to %d places that were rocked", MostRocked)
	}
	if len(q.Plays) > MostPlays || len(q.Suppose) > MostPlays {
		errs.Add("plays", "at most %d places", MostPlays)
	}
	if err := errs.Err(); err != nil {
		return nil, err
	}
	st := q.State
	st.Corner, st.Input = nil, nil
	if err := driveline.Build(d, &st).CheckState(&st); err != nil {
		return nil, err
	}
	a := &Answer{Measured: []RockedOut{}, Places: []Place{}, Parts: map[string]float64{}, Supposed: []string{},
		Asks: []string{}, Schools: playSchools, Cautions: playCautions}
	w := &work{q: &q, answer: a}
	if err := w.measure(&errs); err != nil {
		return nil, err
	}
	if err := errs.Err(); err != nil {
		return nil, err
	}
	w.weigh()
	w.say()
	return a, nil
}

// work is that of one question.
type work struct {
	q       *Question
	answer  *Answer
	places  []source
	factors [][]float64 // measurement × place
	repeat  []float64
}

// held is the state of one measurement: wheels on the ground are chocked.
func (w *work) held(r Rocked) *driveline.State {
	st := w.q.State
	st.Corner = nil
	st.Input = &driveline.Input{Shaft: r.At}
	st.Hold = slices.Concat(st.Hold, r.Hold)
	st.Wheels = maps.Clone(st.Wheels)
	if st.Wheels == nil {
		st.Wheels = map[string]string{}
	}
	for i := range w.q.Driveline.Parts {
		if p := &w.q.Driveline.Parts[i]; p.Wheel != nil {
			v := st.Wheels[p.ID]
			if v == "" && w.q.Driveline.Lies != driveline.Bench || v == driveline.OnGround {
				st.Wheels[p.ID] = driveline.Held
			}
		}
	}
	return &st
}

func (w *work) measure(errs *fault.Errors) error {
	for i, r := range w.q.Measured {
		at := fmt.Sprintf("measured/%d/", i)
		m := driveline.Build(&w.q.Driveline, w.held(r))
		if m.Shaft(r.At) == nil {
			errs.Add(at+"at", "there is no shaft %q in this driveline", say.Clip(r.At, 60))
			continue
		}
		if len(r.Hold) > 20 {
			errs.Add(at+"hold", "at most 20 shafts and wheels")
			continue
		}
		for _, h := range r.Hold {
			if m.Holdable(h) == "" {
				errs.Add(at+"hold", "there is no shaft or wheel %q", say.Clip(h, 60))
			}
		}
		out, repeat := w.reading(r, at, errs)
		out.At, out.Name, out.Hold = r.At, m.Shaft(r.At).Name, r.Hold
		if out.Hold == nil {
			out.Hold = []string{}
		}
		if errs.Err() != nil {
			continue
		}
		if w.places == nil {
			w.places = sources(m)
			if err := w.own(); err != nil {
				return err
			}
		}
		f, bounded, err := w.factorsOf(m)
		if err != nil {
			return err
		}
		out.Bounded, out.TwoWays = bounded, bounded && w.otherWay(m, f)
		w.factors, w.repeat = append(w.factors, f), append(w.repeat, repeat)
		w.answer.Measured = append(w.answer.Measured, out)
	}
	return nil
}

// reading brings a measurement to degrees.
func (w *work) reading(r Rocked, at string, errs *fault.Errors) (RockedOut, float64) {
	out := RockedOut{Shares: []Share{}}
	repeat := r.Repeat
	if repeat == 0 {
		repeat = usualRepeat
	}
	if !(repeat > 0 && repeat <= 10) {
		errs.Add(at+"repeat_deg", "from above 0 to 10 degrees")
	}
	switch {
	case r.Degrees != nil && r.ArcMM != nil:
		errs.Add(at+"arc_mm", "an angle or an arc, not both")
	case r.Degrees != nil:
		if !(*r.Degrees >= 0 && *r.Degrees <= 720) {
			errs.Add(at+"degrees", "from 0 to 720 degrees, from stop to stop")
		}
		out.Degrees = r.Degrees
	case r.ArcMM != nil:
		if !(r.RadiusMM >= 5 && r.RadiusMM <= 2000) {
			errs.Add(at+"radius_mm", "the radius at which the arc was measured, from 5 to 2000 mm")
			break
		}
		if !(*r.ArcMM >= 0 && *r.ArcMM <= 12*r.RadiusMM) {
			errs.Add(at+"arc_mm", "from 0 to two turns of the rim")
			break
		}
		deg := say.Round(*r.ArcMM/r.RadiusMM*180/math.Pi, 3)
		out.Degrees = &deg
		out.From = fmt.Sprintf("%s mm ÷ %s mm · 180/π = %s°", say.Trim(*r.ArcMM, 2), say.Trim(r.RadiusMM, 1), say.Trim(deg, 2))
	}
	return out, repeat
}

// own puts in what is known of a place better than by what is usual.
func (w *work) own() error {
	var errs fault.Errors
	for i := range w.places {
		w.places[i].Own = w.places[i].Usual
	}
	for _, list := range []struct {
		at    string
		plays []OwnPlay
	}{{"plays", w.q.Plays}, {"suppose", w.q.Suppose}} {
		for i, o := range list.plays {
			k := slices.IndexFunc(w.places, func(s source) bool { return s.ID == o.Place })
			at := fmt.Sprintf("%s/%d/", list.at, i)
			switch {
			case k < 0:
				errs.Add(at+"place", "there is no such place; %s", w.some())
			case !(o.Degrees >= 0 && o.Degrees <= 360):
				errs.Add(at+"degrees", "from 0 to 360 degrees")
			case list.at == "plays":
				w.places[k].Own, w.places[k].Entered = o.Degrees, true
			}
		}
	}
	return errs.Err()
}

// factorsOf is how much of each place's play shows at the shaft that is turned.
func (w *work) factorsOf(m *driveline.Machine) ([]float64, bool, error) {
	c, err := network.Compile(m.Net)
	if err != nil {
		return nil, false, fmt.Errorf("the parts make no network: %w", err)
	}
	play := make([]float64, len(m.Net.Elements))
	at := make(map[string]int, len(m.Net.Elements))
	for k, e := range m.Net.Elements {
		at[e.ID] = k
	}
	for _, s := range w.places {
		if k, ok := at[w.elementID(s)]; ok {
			play[k] += s.coeff * s.Own
		}
	}
	rock := c.Rock(c.Shaft(m.Input), play)
	f := make([]float64, len(w.places))
	for i, s := range w.places {
		if k, ok := at[w.elementID(s)]; ok {
			f[i] = say.Round(math.Abs(rock.Factor[k])*s.coeff, 6)
		}
	}
	for _, u := range m.Unknowns {
		if rock.Bounded && rock.Factor[u.Element] != 0 {
			ask := askRatio(u)
			if !slices.Contains(w.answer.Asks, ask) {
				w.answer.Asks = append(w.answer.Asks, ask)
			}
		}
	}
	return f, rock.Bounded, nil
}

// otherWay is whether something else would still hold the shaft if the place
// that shows most were free.
func (w *work) otherWay(m *driveline.Machine, f []float64) bool {
	most := -1
	for i, s := range w.places {
		if most < 0 || f[i]*s.Own > f[most]*w.places[most].Own {
			most = i
		}
	}
	if most < 0 || f[most] == 0 {
		return false
	}
	less := m.Net
	id := w.elementID(w.places[most])
	less.Elements = slices.DeleteFunc(slices.Clone(less.Elements), func(e network.Element) bool { return e.ID == id })
	c, err := network.Compile(less)
	return err == nil && c.Rock(c.Shaft(m.Input), make([]float64, len(less.Elements))).Bounded
}

func (w *work) elementID(s source) string {
	return strings.TrimSuffix(strings.TrimSuffix(s.ID, ".left"), ".right")
}
