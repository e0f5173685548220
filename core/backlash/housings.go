package backlash

import (
	"fmt"
	"math"

	"zorvel/core/fault"
)

// Housings is what is believed of a sensitivity before a housing's own trials: a factor
// of the law, with its standard deviation from housing to housing.
type Housings struct {
	Factor float64 `json:"factor"`
	Sigma  float64 `json:"sigma"`
	Count  int     `json:"count,omitempty"` // housings of other shops that it comes from; none for the law alone
}

// ByLaw believes the law, give or take sigma.
func ByLaw(sigma float64) Housings { return Housings{Factor: 1, Sigma: sigma} }

// Check refuses what no housing has; faults lie under at.
func (h Housings) Check(at string, errs *fault.Errors) {
	if !(h.Factor >= 0.3 && h.Factor <= 3) {
		errs.Add(at+"factor", "how many times the law's sensitivity, from 0.3 to 3")
	}
	if !(h.Sigma >= 0.02 && h.Sigma <= 1) {
		errs.Add(at+"sigma", "the factor's standard deviation, from 0.02 to 1")
	}
	if h.Count < 0 || h.Count > 1_000_000 {
		errs.Add(at+"count", "housings that it comes from, from 0 to 1,000,000")
	}
}

// Origin says whose housings they were.
func (h Housings) Origin() string {
	if h.Count == 1 {
		return "one housing of another shop"
	}
	return fmt.Sprintf("%d housings of other shops", h.Count)
}

// Sample is what one housing's trials said of it, apart from what was believed before:
// a factor of the law with its standard deviation.
type Sample struct{ Factor, Sigma float64 }

// Taught takes what was believed out of what is believed now: both are factors, and what
// the trials said is the quotient of the two Gaussians. Not ok where the trials said less
// than three times what the belief did.
func Taught(before Housings, factor, sigma float64) (s Sample, ok bool) {
	was, is := 1/(before.Sigma*before.Sigma), 1/(sigma*sigma)
	if !(is > 4*was) || math.IsInf(is, 0) {
		return s, false
	}
	return Sample{(factor*is - before.Factor*was) / (is - was), 1 / math.Sqrt(is-was)}, true
}

// Scatter sums housings up: how many, their mean factor and their standard deviation
// about it, with what measuring adds.
type Scatter struct {
	Count int     `json:"count"`
	Mean  float64 `json:"mean"`
	Sigma float64 `json:"sigma"`
}

// Scattered sums samples up.
func Scattered(list []Sample) Scatter {
	var s Scatter
	for _, x := range list {
		s = s.Add(Scatter{Count: 1, Mean: x.Factor})
	}
	return s
}

// Add joins two sums (Chan, Golub and LeVeque 1979).
func (s Scatter) Add(x Scatter) Scatter {
	n := s.Count + x.Count
	if n == 0 {
		return s
	}
	a, b := float64(s.Count), float64(x.Count)
	d := x.Mean - s.Mean
	squares := a*s.Sigma*s.Sigma + b*x.Sigma*x.Sigma + d*d*a*b/(a+b)
	return Scatter{Count: n, Mean: s.Mean + d*b/(a+b), Sigma: math.Sqrt(squares / (a + b))}
}

// lawHousings is how many housings the law weighs as.
const lawHousings = 5

// With weighs other shops' housings beside what was believed, which counts as five.
func (h Housings) With(s Scatter) Housings {
	if s.Count == 0 {
		return h
	}
	all := Scatter{Count: lawHousings, Mean: h.Factor, Sigma: h.Sigma}.Add(s)
	return Housings{Factor: min(max(all.Mean, 0.3), 3), Sigma: min(max(all.Sigma, 0.02), 1), Count: s.Count}
}
