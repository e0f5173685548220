package sight

import (
	"math"
	"math/cmplx"
)

// What cameras are like: the focal length as a share of the photo's longer side (by how
// much that differs from lens to lens is in focalSpread), and by how much a pose that was
// found may miss it, in the unit of a pose's dx and dy.
const (
	focal       = 0.95
	focalSpread = 0.3
	cameraOff   = 0.015
)

// camera is how unlikely it is that a camera sees a gear at a pose, as a logarithm.
//
// The map of the gear's plane to the picture, with columns h₁, h₂, h₃, takes the circular
// points to h₁ ± i·h₂. A camera with square points, its axis through the middle of the
// picture and focal length f has them on (hx² + hy²)/f² + hw² = 0 (the image of the absolute
// conic). Of the pose's seven figures one follows from the others, and one nearly, since
// lenses are much alike.
func camera(at pose, p *picture) float64 {
	l := newLens(at)
	column := func(c, s float64) (x, y, w float64) {
		px, py := c*l.ca+s*l.sa, s*l.ca-c*l.sa
		u, v, w := px, l.q*py, l.d*px
		u, v = (u*l.ca-v*l.sa)*at.a, (u*l.sa+v*l.ca)*at.a*at.q
		return u*l.c - v*l.s + w*(at.x-float64(p.w)/2), u*l.s + v*l.c + w*(at.y-float64(p.h)/2), w
	}
	x1, y1, w1 := column(1, 0)
	x2, y2, w2 := column(0, 1)
	hx, hy, hw := complex(x1, x2), complex(y1, y2), complex(w1, w2)
	z := cmplx.Sqrt(-(hx*hx + hy*hy)) / complex(focal*float64(max(p.w, p.h)), 0)
	m := cmplx.Abs(z)
	along := complex(1, 0)
	if m > 1e-9 {
		along = z / complex(m, 0)
	}
	best := math.Inf(1)
	for _, z := range []complex128{z, -z} { // tilted to one side or the other
		d := (hw - z) / along
		best = min(best, square(real(d)/(cameraOff+focalSpread*m))+square(imag(d)/cameraOff))
	}
	return best / 2
}

func square(v float64) float64 { return v * v }
