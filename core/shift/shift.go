// Package shift is the mechanics of a sliding dog clutch that is moved by hand
// through a cable, as in a boat's gearcase: why it stalls when it is taken out
// of gear, grinds going in, pops out under load or will not go in.
//
// Sources: the force to draw a loaded dog with undercut flanks is that of a
// body on an inclined plane, F = T/r · tan(γ + φ) with tan φ = μ (any textbook
// of machine elements, under screw threads); the time an engine turns on
// without ignition is J·Δω/M. Figures that are left out are typical of a small
// outboard, and named as such.
package shift

import (
	"fmt"
	"math"

	"zorvel/core/fault"
	"zorvel/core/say"
)

// Mechanism is what moves the dogs, and what it moves. Zero is typical.
type Mechanism struct {
	CableN      float64  `json:"cable_n,omitempty"`   // drag of the cable in its jacket
	SealN       float64  `json:"seal_n,omitempty"`    // drag of the shift shaft in its seal, at the cable's end
	Switch      string   `json:"switch,omitempty"`    // works (default), open (sticks open) or closed (never opens)
	IdleRPM     float64  `json:"idle_rpm,omitempty"`  // in gear
	MoveS       float64  `json:"move_s,omitempty"`    // how long the hand takes
	StrokeMM    float64  `json:"stroke_mm,omitempty"` // of the dogs, from neutral
	ShortMM     *float64 `json:"short_mm,omitempty"`  // of that, missing: cable out of phase
	RoundMM     *float64 `json:"round_mm,omitempty"`  // rounding of the dogs' corners
	UndercutDeg *float64 `json:"undercut_deg,omitempty"`
}

// What is typical; typical, and said to be.
const (
	typicalCable    = 12.0
	typicalSeal     = 8.0
	typicalIdle     = 700.0
	typicalMove     = 0.13
	typicalStroke   = 9.0
	typicalShort    = 0.5
	typicalRound    = 0.3
	typicalUndercut = 6.0

	hand     = 110.0 // N that a hand gives at the cable's end
	hardAt   = 74.0  // N above which it is called hard
	switchAt = 30.0  // N at which the interrupter opens
	release  = 20.0  // N below which it closes again
	inertia  = 0.05  // kg·m², crank and flywheel
	dragNM   = 5.0   // of an engine without ignition
	stallRPM = 350.0
	idleNM   = 20.0 // at the dogs, per 700 rpm squared
	fullNM   = 110.0
	radiusM  = 0.024 // of the dogs
	friction = 0.15
	lever    = 4.0 // of the shift shaft: force at the dogs per force at the cable
	holdN    = 240.0
	ratio    = 2.0
	lugs     = 3.0
	gap      = 0.3 // of the pitch between lugs is open
	bite     = 0.4 // mm in one pass, so that it catches
	needed   = 0.75
	pushing  = 1.35 // a cable that pushes drags more than one that pulls
	relaxing = 0.22 // s that a cable strained by the release's force takes to give way
	firings  = 1.0  // turns of the crank until the torque is gone
)

// Gear is what leaving one gear takes.
type Gear struct {
	Gear    string  `json:"gear"`
	ForceN  float64 `json:"force_n"`  // at the cable, at most
	OpenS   float64 `json:"open_s"`   // the interrupter is open for so long
	StandsS float64 `json:"stands_s"` // the engine turns on for so long
	Stalls  bool    `json:"stalls"`
	Hard    bool    `json:"hard"`
	Stuck   bool    `json:"stuck"` // a hand does not draw it
}

// Answer is what such a mechanism does.
type Answer struct {
	Sentence string   `json:"sentence"`
	Out      []Gear   `json:"out"`
	BiteMM   float64  `json:"bite_mm"` // as deep as it goes in while one gap passes
	NeedMM   float64  `json:"need_mm"`
	Grinds   bool     `json:"grinds"`
	InMM     float64  `json:"in_mm"` // how deep it sits
	NotIn    bool     `json:"not_in"`
	PushN    float64  `json:"push_n"` // with which full load pushes the dogs apart; below 0 it draws them in
	Pops     bool     `json:"pops"`
	Typical  []string `json:"typical"` // what was taken as typical
	Advice   []string `json:"advice"`
	Cautions []string `json:"cautions"`
}

// Work says what a mechanism does. Faults are fault.Errors.
func Work(m Mechanism) (*Answer, error) {
	if err := fault.Figures(m); err != nil {
		return nil, err
	}
	a := &Answer{Out: []Gear{}, Typical: []string{}, Advice: []string{}, Cautions: []string{"Lanyard and key out before a hand goes near the propeller; moored fast when it runs."}}
	var errs fault.Errors
	figure := func(v *float64, field, name, unit string, usual, most float64) {
		if *v == 0 {
			*v = usual
			a.Typical = append(a.Typical, fmt.Sprintf("%s %s %s", name, say.Trim(usual, 2), unit))
		}
		if !(*v > 0 && *v <= most) {
			errs.Add(field, "above 0, to %s %s", say.Trim(most, 0), unit)
		}
	}
	figure(&m.CableN, "cable_n", "drag of the cable", "N", typicalCable, 1000)
	figure(&m.SealN, "seal_n", "drag of the shift shaft", "N", typicalSeal, 1000)
	figure(&m.IdleRPM, "idle_rpm", "idle", "rpm", typicalIdle, 5000)
	figure(&m.MoveS, "move_s", "a movement of", "s", typicalMove, 10)
	figure(&m.StrokeMM, "stroke_mm", "stroke of the dogs", "mm", typicalStroke, 100)
	least := func(p *float64, field, name, unit string, usual, most float64) float64 {
		if p == nil {
			a.Typical = append(a.Typical, fmt.Sprintf("%s %s %s", name, say.Trim(usual, 2), unit))
			return usual
		}
		if !(*p >= 0 && *p <= most) {
			errs.Add(field, "from 0 to %s %s", say.Trim(most, 0), unit)
		}
		return *p
	}
	short := least(m.ShortMM, "short_mm", "missing stroke", "mm", typicalShort, 100)
	round := least(m.RoundMM, "round_mm", "rounding", "mm", typicalRound, 20)
	undercut := least(m.UndercutDeg, "undercut_deg", "undercut", "°", typicalUndercut, 30) * math.Pi / 180
	switch m.Switch {
	case "":
		m.Switch = "works"
	case "works", "open", "closed":
	default:
		errs.Add("switch", "works, open (sticks open) or closed (never opens)")
	}
	if err := errs.Err(); err != nil {
		return nil, err
	}
	for _, gear := range []string{"reverse", "forward"} {
		a.Out = append(a.Out, m.leave(gear, undercut))
	}
	m.enter(a, short, round)
	m.load(a, short, round, undercut)
	m.say(a)
	return a, nil
}

// leave is taking it out of a gear.
func (m *Mechanism) leave(gear string, undercut float64) Gear {
	cable := m.CableN
	load := 1.0
	if gear == "reverse" { // the cable pushes, and astern the propeller takes more
		cable *= pushing
		load = 1.15
	}
	phi := math.Atan(friction)
	torque := idleNM * load * math.Pow(m.IdleRPM/typicalIdle, 2)
	dogs := torque / radiusM * math.Tan(undercut+phi) / lever
	stands := inertia * (m.IdleRPM - stallRPM) * 2 * math.Pi / 60 / dragNM
	g := Gear{Gear: gear, StandsS: math.Max(0, stands)}
	rate := hand / m.MoveS // N/s at the cable's end
	total := dogs + m.SealN + cable
	switch m.Switch {
	case "closed": // the torque stays on
		g.ForceN = total
	case "open":
		g.ForceN, g.OpenS = m.SealN+cable, math.Inf(1)
	default:
		// The switch opens as soon as it is loaded; from then on the torque falls.
		opens := math.Min(switchAt, dogs+m.SealN)
		fall := firings * 60 / m.IdleRPM
		at := (opens + cable) / rate
		// The hand's force grows while the torque falls; they meet.
		meet := (total - opens - cable) / (rate + dogs/fall)
		meet = math.Min(math.Max(0, meet), fall)
		g.ForceN = math.Min(total, rate*(at+meet))
		if dogs+m.SealN >= switchAt {
			g.OpenS = meet
		}
		if m.SealN > release { // the seal alone holds it open for the rest of the way
			g.OpenS += 0.6 * m.MoveS * (1 + m.SealN/hand)
		}
		if strain := math.Max(cable, m.SealN); strain > release { // it stays in the cable
			g.OpenS += relaxing * strain / release
		}
	}
	g.Stalls = g.OpenS > g.StandsS
	g.Stuck = g.ForceN > hand
	g.Hard = g.ForceN > hardAt
	if math.IsInf(g.OpenS, 1) {
		g.OpenS = 60
	}
	g.ForceN, g.OpenS, g.StandsS = say.Round(g.ForceN, 1), say.Round(g.OpenS, 3), say.Round(g.StandsS, 3)
	return g
}

// enter is putting it in: how deep the dogs get while one gap passes.
func (m *Mechanism) enter(a *Answer, short, round float64) {
	passes := 2 * math.Pi / lugs * gap / (m.IdleRPM / ratio * 2 * math.Pi / 60)
	slowed := m.MoveS * (1 + (m.CableN+m.SealN-typicalCable-typicalSeal)/hand)
	a.BiteMM = say.Round(m.StrokeMM/math.Max(slowed, 0.02)*passes, 2)
	// A cable out of phase ends its stroke on the tips.
	a.NeedMM = say.Round(bite+round+0.15*short, 2)
	a.Grinds = a.BiteMM < a.NeedMM
	a.InMM = say.Round(m.StrokeMM-short, 2)
	a.NotIn = a.InMM < needed*m.StrokeMM
}

// load is driving on: a corner that is round, or barely in, is a ramp.
func (m *Mechanism) load(a *Answer, short, round, undercut float64) {
	// The first few millimeters are the corner's; the contact rides up on it the
	// more, the shallower the dogs sit.
	ramp := math.Atan(2.2 * round / math.Max(0.3, a.InMM-4))
	angle := ramp - undercut - math.Atan(friction)
	a.PushN = say.Round(fullNM/radiusM*math.Tan(angle), 0)
	a.Pops = a.PushN > holdN
}
