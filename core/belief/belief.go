// Package belief holds what is believed of a few coefficients, as a Gaussian,
// and takes in observations of their sums.
//
// It is linear regression with Gaussian prior and errors, one row at a time:
// with the row r, the reading y ± σ and the belief (μ, Σ), the gain is
// g = Σr / (rᵀΣr + σ²), μ becomes μ + g·(y − rᵀμ) and Σ becomes Σ − g·(Σr)ᵀ
// (Bishop, Pattern Recognition and Machine Learning, 3.3; a Kalman filter
// without motion). A row costs O(k²) for k coefficients.
package belief

import (
	"math"

	"gonum.org/v1/gonum/mat"
)

// Normal is a Gaussian belief. Values are not changed once made.
type Normal struct {
	mean *mat.VecDense
	cov  *mat.SymDense
}

// Of is a belief of independent coefficients, each with a mean and a standard
// deviation. Both are of the same length, at least one.
func Of(mean, sigma []float64) Normal {
	n := Normal{mean: mat.NewVecDense(len(mean), append([]float64(nil), mean...)), cov: mat.NewSymDense(len(mean), nil)}
	for i, s := range sigma {
		n.cov.SetSym(i, i, s*s)
	}
	return n
}

// Fit is what rows alone say of their coefficients, each row observed with the
// same σ: least squares by the normal equations (Cholesky). false where the rows
// don't tell the coefficients apart.
func Fit(rows [][]float64, y []float64, sigma float64) (Normal, bool) {
	k := len(rows[0])
	a, b := mat.NewSymDense(k, nil), mat.NewVecDense(k, nil)
	for i, r := range rows {
		v := mat.NewVecDense(k, r)
		a.SymRankOne(a, 1, v)
		b.AddScaledVec(b, y[i], v)
	}
	var c mat.Cholesky
	if !c.Factorize(a) || c.Det() < 1e-6 {
		return Normal{}, false
	}
	n := Normal{mean: mat.NewVecDense(k, nil), cov: mat.NewSymDense(k, nil)}
	if c.SolveVecTo(n.mean, b) != nil || c.InverseTo(n.cov) != nil {
		return Normal{}, false
	}
	n.cov.ScaleSym(sigma*sigma, n.cov)
	return n, true
}

// See takes an observation in: row · coefficients = y, give or take sigma. One
// that is certain of what was certain before changes nothing.
func (n Normal) See(row []float64, y, sigma float64) Normal {
	r := mat.NewVecDense(len(row), row)
	var to mat.VecDense // Σr
	to.MulVec(n.cov, r)
	s := sigma*sigma + mat.Dot(r, &to)
	if s <= 0 {
		return n
	}
	out := Normal{mean: mat.VecDenseCopyOf(n.mean), cov: mat.NewSymDense(len(row), nil)}
	out.mean.AddScaledVec(n.mean, (y-n.At(row))/s, &to)
	out.cov.SymRankOne(n.cov, -1/s, &to)
	return out
}

// At is what is expected of a row.
func (n Normal) At(row []float64) float64 { return mat.Dot(mat.NewVecDense(len(row), row), n.mean) }

// Spread is the standard deviation of what is expected of a row.
func (n Normal) Spread(row []float64) float64 {
	r := mat.NewVecDense(len(row), row)
	return math.Sqrt(math.Max(0, mat.Inner(r, n.cov, r)))
}

// Mean is what is expected of a coefficient.
func (n Normal) Mean(i int) float64 { return n.mean.AtVec(i) }

// Sigma is a coefficient's standard deviation.
func (n Normal) Sigma(i int) float64 { return math.Sqrt(math.Max(0, n.cov.At(i, i))) }

// Cov is the covariance of two coefficients.
func (n Normal) Cov(i, k int) float64 { return n.cov.At(i, k) }
