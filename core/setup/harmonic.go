package setup

import (
	"math"
	"slices"

	"zorvel/core/belief"
	"zorvel/core/say"
)

// Around is what the places of one gear come to.
type Around struct {
	MeanMM     float64 `json:"mean_mm"`
	LeastMM    float64 `json:"least_mm"`
	GreatestMM float64 `json:"greatest_mm"`
	Places     []Place `json:"places"`
	Counted    int     `json:"counted"` // places that count
	// Once is the first harmonic, nil where the places don't tell it.
	Once *Harmonic `json:"once,omitempty"`
	// OddPlace stands out from mean and harmonic together, 1 for the first; 0 for none.
	OddPlace int     `json:"odd_place,omitempty"`
	OddMM    float64 `json:"odd_mm,omitempty"` // by how much
}

// Harmonic is what comes once per turn: the reading is mean + amplitude ·
// cos(angle − at), so that it swings over twice the amplitude.
type Harmonic struct {
	AmplitudeMM float64 `json:"amplitude_mm"`
	AtDeg       float64 `json:"at_deg"`   // where it reads most
	SigmaMM     float64 `json:"sigma_mm"` // standard deviation of the amplitude, from the gauge
	Seen        bool    `json:"seen"`     // more than the gauge's own scatter
}

// around fits mean and first harmonic by least squares (any textbook on
// regression; for evenly spaced places the discrete Fourier transform). scale
// brings the gauge's figure to where it counts, repeat is what it repeats to
// there.
func around(places []Place, scale, repeat float64) Around {
	a := Around{Places: places, LeastMM: math.Inf(1), GreatestMM: math.Inf(-1)}
	var at, y []float64
	var index []int
	for i, p := range places {
		if p.Out != "" {
			continue
		}
		v := p.MM * scale
		at, y, index = append(at, p.AtDeg*math.Pi/180), append(y, v), append(index, i)
		a.MeanMM += v
		a.LeastMM, a.GreatestMM = math.Min(a.LeastMM, v), math.Max(a.GreatestMM, v)
	}
	if a.Counted = len(y); a.Counted == 0 {
		a.LeastMM, a.GreatestMM = 0, 0
		return a
	}
	a.MeanMM /= float64(len(y))
	if len(y) >= 3 {
		a.fit(at, y, index, repeat)
	}
	a.MeanMM, a.LeastMM, a.GreatestMM = say.Round(a.MeanMM, 4), say.Round(a.LeastMM, 4), say.Round(a.GreatestMM, 4)
	return a
}

func (a *Around) fit(at, y []float64, index []int, repeat float64) {
	rows := make([][]float64, len(y))
	for i, t := range at {
		rows[i] = []float64{1, math.Cos(t), math.Sin(t)}
	}
	f, ok := belief.Fit(rows, y, repeat)
	// Places that lie close together say nothing of the other side.
	if !ok || math.Sqrt(f.Cov(1, 1)+f.Cov(2, 2)) > 3*repeat {
		return
	}
	c, s := f.Mean(1), f.Mean(2)
	amp := math.Hypot(c, s)
	h := Harmonic{AmplitudeMM: say.Round(amp, 4), AtDeg: say.Round(math.Mod(math.Atan2(s, c)*180/math.Pi+360, 360), 1)}
	sigma := math.Sqrt(math.Max(f.Cov(1, 1), f.Cov(2, 2)))
	if amp > 0 {
		// Along the direction in which it points.
		u, v := c/amp, s/amp
		sigma = math.Sqrt(math.Max(0, u*u*f.Cov(1, 1)+2*u*v*f.Cov(1, 2)+v*v*f.Cov(2, 2)))
	}
	h.SigmaMM = say.Round(sigma, 4)
	// With the mean known, noise alone gives an amplitude of a Rayleigh
	// distribution: 2.45 standard deviations are passed one time in twenty.
	h.Seen = amp > 2.45*sigma
	a.Once = &h
	a.MeanMM = f.Mean(0)
	if len(y) < 6 {
		return
	}
	var worst, rest float64
	for i := range y {
		r := y[i] - f.At(rows[i])
		rest += r * r
		if math.Abs(r) > math.Abs(worst) {
			worst, a.OddPlace = r, index[i]+1
		}
	}
	// One place carries the misfit: more than four times the gauge's scatter,
	// and most of all that is left.
	if math.Abs(worst) > 4*repeat && worst*worst > rest/2 {
		// Against what the other places make of it: residual ÷ (1 − leverage).
		lever := f.Spread(rows[slices.Index(index, a.OddPlace-1)]) / repeat
		a.OddMM = say.Round(worst/math.Max(0.05, 1-lever*lever), 4)
		return
	}
	a.OddPlace = 0
}
