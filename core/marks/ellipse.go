package marks

import (
	"errors"
	"math"
)

// Ellipse is a circle seen at an angle: center, half axes (the longer first) and
// by how much the longer is turned, in the picture's own measure and radians.
type Ellipse struct {
	X    float64 `json:"x"`
	Y    float64 `json:"y"`
	A    float64 `json:"a"`
	B    float64 `json:"b"`
	Turn float64 `json:"turn"`
}

var errNoEllipse = errors.New("these points lie on no circle, however it is seen")

// fit is the ellipse nearest to points by the direct least squares of Fitzgibbon,
// Pilu and Fisher (1999) in the stable form of Halíř and Flusser (1998). Points are
// moved and scaled first, so that pixels don't matter.
func fit(pts []Point) (Ellipse, error) {
	mx, my, scale := 0.0, 0.0, 0.0
	for _, p := range pts {
		mx += p.X
		my += p.Y
	}
	n := float64(len(pts))
	mx, my = mx/n, my/n
	for _, p := range pts {
		scale += math.Hypot(p.X-mx, p.Y-my)
	}
	scale /= n
	if !(scale > 0) {
		return Ellipse{}, errNoEllipse
	}
	var s1, s2, s3 [3][3]float64
	for _, p := range pts {
		x, y := (p.X-mx)/scale, (p.Y-my)/scale
		q, l := [3]float64{x * x, x * y, y * y}, [3]float64{x, y, 1}
		for i := range 3 {
			for j := range 3 {
				s1[i][j] += q[i] * q[j]
				s2[i][j] += q[i] * l[j]
				s3[i][j] += l[i] * l[j]
			}
		}
	}
	inv, ok := inverse(s3)
	if !ok {
		return Ellipse{}, errNoEllipse
	}
	// T = −S3⁻¹·S2ᵀ;  M = S1 + S2·T, its rows by the inverse of the constraint.
	var t, m [3][3]float64
	for i := range 3 {
		for j := range 3 {
			for k := range 3 {
				t[i][j] -= inv[i][k] * s2[j][k]
			}
		}
	}
	for i := range 3 {
		for j := range 3 {
			m[i][j] = s1[i][j]
			for k := range 3 {
				m[i][j] += s2[i][k] * t[k][j]
			}
		}
	}
	c := [3][3]float64{}
	for j := range 3 {
		c[0][j], c[1][j], c[2][j] = m[2][j]/2, -m[1][j], m[0][j]/2
	}
	for _, v := range eigenvectors(c) {
		if 4*v[0]*v[2]-v[1]*v[1] <= 0 {
			continue
		}
		var l [3]float64
		for i := range 3 {
			for k := range 3 {
				l[i] += t[i][k] * v[k]
			}
		}
		e, ok := axes(v[0], v[1], v[2], l[0], l[1], l[2])
		if !ok {
			continue
		}
		return Ellipse{e.X*scale + mx, e.Y*scale + my, e.A * scale, e.B * scale, e.Turn}, nil
	}
	return Ellipse{}, errNoEllipse
}

// axes turns ax² + bxy + cy² + dx + ey + f = 0 into center and half axes.
func axes(a, b, c, d, e, f float64) (Ellipse, bool) {
	den := 4*a*c - b*b
	x, y := (b*e-2*c*d)/den, (b*d-2*a*e)/den
	k := -(f + (d*x+e*y)/2)
	if k < 0 {
		a, b, c, k = -a, -b, -c, -k
	}
	mean, diff := (a+c)/2, math.Hypot((a-c)/2, b/2)
	if !(mean-diff > 0) || !(k > 0) {
		return Ellipse{}, false
	}
	out := Ellipse{X: x, Y: y, A: math.Sqrt(k / (mean - diff)), B: math.Sqrt(k / (mean + diff)), Turn: math.Atan2(-b, c-a) / 2}
	return out, !math.IsNaN(out.A+out.B+out.X+out.Y) && !math.IsInf(out.A, 0)
}

func inverse(m [3][3]float64) ([3][3]float64, bool) {
	var out [3][3]float64
	minor := func(i, j int) float64 {
		a, b, c, d := (i+1)%3, (i+2)%3, (j+1)%3, (j+2)%3
		return m[a][c]*m[b][d] - m[a][d]*m[b][c]
	}
	det := m[0][0]*minor(0, 0) + m[0][1]*minor(0, 1) + m[0][2]*minor(0, 2)
	if math.Abs(det) < 1e-12 {
		return out, false
	}
	for i := range 3 {
		for j := range 3 {
			out[j][i] = minor(i, j) / det
		}
	}
	return out, true
}

// eigenvectors of the real eigenvalues, the roots of the characteristic cubic by
// Viète's trigonometric form or Cardano's.
func eigenvectors(m [3][3]float64) [][3]float64 {
	tr := m[0][0] + m[1][1] + m[2][2]
	minors := m[0][0]*m[1][1] - m[0][1]*m[1][0] + m[0][0]*m[2][2] - m[0][2]*m[2][0] + m[1][1]*m[2][2] - m[1][2]*m[2][1]
	det := m[0][0]*(m[1][1]*m[2][2]-m[1][2]*m[2][1]) - m[0][1]*(m[1][0]*m[2][2]-m[1][2]*m[2][0]) + m[0][2]*(m[1][0]*m[2][1]-m[1][1]*m[2][0])
	p, q := minors-tr*tr/3, -2*tr*tr*tr/27+tr*minors/3-det
	var roots []float64
	if disc := q*q/4 + p*p*p/27; disc > 0 {
		s := math.Sqrt(disc)
		roots = []float64{math.Cbrt(-q/2+s) + math.Cbrt(-q/2-s) + tr/3}
	} else {
		r := 2 * math.Sqrt(-p/3)
		angle := 0.0
		if r > 0 {
			angle = math.Acos(math.Max(-1, math.Min(1, 3*q/(p*r)))) / 3
		}
		for k := range 3 {
			roots = append(roots, r*math.Cos(angle-2*math.Pi*float64(k)/3)+tr/3)
		}
	}
	var out [][3]float64
	for _, w := range roots {
		// The cross product of two rows of M − w·I that aren't parallel.
		a := m
		for i := range 3 {
			a[i][i] -= w
		}
		best, v := 0.0, [3]float64{}
		for i := range 3 {
			x, y := a[i], a[(i+1)%3]
			c := [3]float64{x[1]*y[2] - x[2]*y[1], x[2]*y[0] - x[0]*y[2], x[0]*y[1] - x[1]*y[0]}
			if n := math.Sqrt(c[0]*c[0] + c[1]*c[1] + c[2]*c[2]); n > best {
				best, v = n, [3]float64{c[0] / n, c[1] / n, c[2] / n}
			}
		}
		if best > 0 {
			out = append(out, v)
		}
	}
	return out
}
