package setup

import "math"

// normal is a Gaussian belief about a few coefficients: their mean and
// covariance.
type normal struct {
	mean []float64
	cov  [][]float64
}

// prior is a belief of independent coefficients.
func prior(mean, sigma []float64) normal {
	n := normal{mean: mean, cov: make([][]float64, len(mean))}
	for i := range mean {
		n.cov[i] = make([]float64, len(mean))
		n.cov[i][i] = sigma[i] * sigma[i]
	}
	return n
}

// see takes an observation in: row · coefficients = y, give or take sigma. The
// update of linear regression with Gaussian prior, one row at a time (Bishop,
// Pattern Recognition and Machine Learning, 3.3; as a Kalman filter without motion).
func (n normal) see(row []float64, y, sigma float64) normal {
	k := len(n.mean)
	gain := make([]float64, k) // cov · row
	for i := range k {
		for j := range k {
			gain[i] += n.cov[i][j] * row[j]
		}
	}
	s := sigma * sigma
	for i := range k {
		s += row[i] * gain[i]
	}
	out := normal{mean: make([]float64, k), cov: make([][]float64, k)}
	miss := y - n.at(row)
	for i := range k {
		out.mean[i] = n.mean[i] + gain[i]*miss/s
		out.cov[i] = make([]float64, k)
		for j := range k {
			out.cov[i][j] = n.cov[i][j] - gain[i]*gain[j]/s
		}
	}
	return out
}

// at is what is expected of a row.
func (n normal) at(row []float64) float64 {
	y := 0.0
	for i, r := range row {
		y += r * n.mean[i]
	}
	return y
}

// spread is the standard deviation of what is expected of a row.
func (n normal) spread(row []float64) float64 {
	v := 0.0
	for i := range row {
		for j := range row {
			v += row[i] * n.cov[i][j] * row[j]
		}
	}
	return math.Sqrt(math.Max(0, v))
}

func (n normal) sigma(i int) float64 { return math.Sqrt(math.Max(0, n.cov[i][i])) }

// leastSquares fits three coefficients, each row with the same sigma; false
// where the rows don't tell them apart.
func leastSquares(rows [][]float64, y []float64, sigma float64) (normal, bool) {
	n := normal{mean: make([]float64, 3), cov: [][]float64{{0, 0, 0}, {0, 0, 0}, {0, 0, 0}}}
	var a [3][3]float64
	var b [3]float64
	for i, r := range rows {
		for j := range 3 {
			b[j] += r[j] * y[i]
			for k := range 3 {
				a[j][k] += r[j] * r[k]
			}
		}
	}
	det := a[0][0]*(a[1][1]*a[2][2]-a[1][2]*a[2][1]) - a[0][1]*(a[1][0]*a[2][2]-a[1][2]*a[2][0]) + a[0][2]*(a[1][0]*a[2][1]-a[1][1]*a[2][0])
	if math.Abs(det) < 1e-6 {
		return n, false
	}
	for j := range 3 {
		for k := range 3 {
			j1, j2, k1, k2 := (j+1)%3, (j+2)%3, (k+1)%3, (k+2)%3
			inv := (a[k1][j1]*a[k2][j2] - a[k1][j2]*a[k2][j1]) / det
			n.mean[j] += inv * b[k]
			n.cov[j][k] = inv * sigma * sigma
		}
	}
	return n, true
}
