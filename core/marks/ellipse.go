package marks

import (
	"errors"
	"math"

	"gonum.org/v1/gonum/mat"
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

var errNoEllipse = errors.New("these points are not on a circle, from any angle")

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
	s1, s2, s3 := mat.NewDense(3, 3, nil), mat.NewDense(3, 3, nil), mat.NewDense(3, 3, nil)
	for _, p := range pts {
		x, y := (p.X-mx)/scale, (p.Y-my)/scale
		q, l := mat.NewVecDense(3, []float64{x * x, x * y, y * y}), mat.NewVecDense(3, []float64{x, y, 1})
		s1.RankOne(s1, 1, q, q)
		s2.RankOne(s2, 1, q, l)
		s3.RankOne(s3, 1, l, l)
	}
	// T = −S3⁻¹·S2ᵀ;  M = S1 + S2·T, its rows by the inverse of the constraint.
	var t, m, c mat.Dense
	if mat.Det(s3) < 1e-12 || t.Solve(s3, s2.T()) != nil {
		return Ellipse{}, errNoEllipse
	}
	t.Scale(-1, &t)
	m.Mul(s2, &t)
	m.Add(&m, s1)
	c.Mul(mat.NewDense(3, 3, []float64{0, 0, 0.5, 0, -1, 0, 0.5, 0, 0}), &m)
	for _, v := range realEigenvectors(&c) {
		if 4*v.AtVec(0)*v.AtVec(2)-v.AtVec(1)*v.AtVec(1) <= 0 {
			continue
		}
		var l mat.VecDense
		l.MulVec(&t, v)
		e, ok := axes(v.AtVec(0), v.AtVec(1), v.AtVec(2), l.AtVec(0), l.AtVec(1), l.AtVec(2))
		if !ok {
			continue
		}
		return Ellipse{e.X*scale + mx, e.Y*scale + my, e.A * scale, e.B * scale, e.Turn}, nil
	}
	return Ellipse{}, errNoEllipse
}

// realEigenvectors are those of the real eigenvalues.
func realEigenvectors(m *mat.Dense) []*mat.VecDense {
	var e mat.Eigen
	if !e.Factorize(m, mat.EigenRight) {
		return nil
	}
	var all mat.CDense
	e.VectorsTo(&all)
	var out []*mat.VecDense
	for k, w := range e.Values(nil) {
		if imag(w) != 0 {
			continue
		}
		v := mat.NewVecDense(3, nil)
		for i := range 3 {
			v.SetVec(i, real(all.At(i, k)))
		}
		out = append(out, v)
	}
	return out
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
	if out.Turn > math.Pi/2-1e-9 { // half a turn further it is the same ellipse: one of the two names
		out.Turn -= math.Pi
	}
	return out, !math.IsNaN(out.A+out.B+out.X+out.Y) && !math.IsInf(out.A, 0)
}
