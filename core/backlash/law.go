// Package backlash is the law by which a shim changes the backlash of bevel
// gears, what one's own trials teach about it, and what backlash there can be.
//
//	backlash change = 2 · tan α · sin δ ÷ cos β · axial move
//
// with the normal pressure angle α, the pitch cone angle δ of the gear that
// moves (tan δ = its teeth ÷ its mate's) and the spiral angle β (Stadtfeld,
// Handbook of Bevel and Hypoid Gears; for straight gears ISO 23509).
package backlash

import (
	"math"

	"zorvel/core/fault"
)

// Mesh is a bevel gear and its mate.
type Mesh struct {
	Teeth    int     `json:"teeth"` // of the gear that moves
	Mate     int     `json:"mate"`
	Pressure float64 `json:"pressure_deg,omitempty"` // 20 if left out
	Spiral   float64 `json:"spiral_deg,omitempty"`   // 0 for straight teeth
}

// Check refuses what can't be; faults lie under at.
func (g *Mesh) Check(at string, errs *fault.Errors) {
	if g.Teeth < 5 || g.Teeth > 200 || g.Mate < 5 || g.Mate > 200 {
		errs.Add(at+"teeth", "teeth of both gears, from 5 to 200")
	}
	if g.Pressure == 0 {
		g.Pressure = 20
	}
	if !(g.Pressure >= 10 && g.Pressure <= 35) {
		errs.Add(at+"pressure_deg", "from 10 to 35 degrees; 20 is common")
	}
	if !(g.Spiral >= 0 && g.Spiral <= 55) {
		errs.Add(at+"spiral_deg", "from 0 (straight teeth) to 55 degrees")
	}
}

// Sensitivity is how much the backlash grows per axial move of the gear away
// from its mate, both in the same unit.
func (g Mesh) Sensitivity() float64 {
	rad := math.Pi / 180
	cone := math.Atan2(float64(g.Teeth), float64(g.Mate))
	return 2 * math.Tan(g.Pressure*rad) * math.Sin(cone) / math.Cos(g.Spiral*rad)
}

// Trial is one assembly: where the gear sat, by its shims, and the backlash
// that was measured, both in millimeters.
type Trial struct {
	ShimMM     float64
	BacklashMM float64
}

// Learned is a sensitivity of backlash to the shim's own thickness (negative
// where a thicker shim closes the mesh), with its standard deviation.
type Learned struct {
	Slope   float64
	Sigma   float64
	Trials  int  // that taught something
	ByLaw   bool // nothing was learned yet
	Flipped bool // the trials say the opposite of the law: shim side or sign is another one
}

// LawSigma is how far housings' sensitivities lie about the law, as a share of it.
const LawSigma = 0.3

// Learn weighs what is believed of such housings against the trials: a Gaussian prior
// about the law, and every pair of trials with the gauge's repeatability (a standard
// deviation). sign is +1 where a thicker shim moves the gear away.
func Learn(law float64, believed Housings, sign int, trials []Trial, repeat float64) Learned {
	mean := float64(sign) * law * believed.Factor
	prior := believed.Sigma * law
	l := Learned{Slope: mean, Sigma: prior, ByLaw: true}
	if len(trials) < 2 {
		return l
	}
	// Least squares of backlash on thickness, about the trials' own mean.
	var sx, sy float64
	for _, t := range trials {
		sx += t.ShimMM
		sy += t.BacklashMM
	}
	n := float64(len(trials))
	var xx, xy float64
	for _, t := range trials {
		dx, dy := t.ShimMM-sx/n, t.BacklashMM-sy/n
		xx += dx * dx
		xy += dx * dy
	}
	if xx < 1e-8 {
		return l
	}
	seen, sigma := xy/xx, math.Max(repeat, 1e-4)/math.Sqrt(xx)
	if seen*mean < 0 && math.Abs(seen) > 2*sigma {
		l.Flipped = true
	}
	w, v := 1/(prior*prior), 1/(sigma*sigma)
	l.Slope, l.Sigma, l.ByLaw = (mean*w+seen*v)/(w+v), 1/math.Sqrt(w+v), false
	l.Trials = len(trials) - 1
	return l
}
