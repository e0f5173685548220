package sight

import "math"

// picture is gray values in rows from the top left, and how many points of the photo
// as it was given one of its points is wide.
type picture struct {
	g     []float32
	w, h  int
	scale float64
}

// halved is the picture at half its size, each point the mean of four.
func (p *picture) halved() *picture {
	w, h := p.w/2, p.h/2
	out := &picture{g: make([]float32, w*h), w: w, h: h, scale: p.scale * 2}
	for y := range h {
		a, b := p.g[2*y*p.w:], p.g[(2*y+1)*p.w:]
		row := out.g[y*w : (y+1)*w]
		for x := range row {
			row[x] = (a[2*x] + a[2*x+1] + b[2*x] + b[2*x+1]) / 4
		}
	}
	return out
}

// atMost is the picture halved until its longer side is at most side.
func (p *picture) atMost(side int) *picture {
	for max(p.w, p.h) > side {
		p = p.halved()
	}
	return p
}

// at is the gray value at a place between points, and whether the place is in the picture.
func (p *picture) at(x, y float64) (float32, bool) {
	if !(x >= 0 && y >= 0 && x < float64(p.w-1) && y < float64(p.h-1)) {
		return 0, false
	}
	i, j := int(x), int(y)
	fx, fy := float32(x-float64(i)), float32(y-float64(j))
	a, b := p.g[j*p.w+i:], p.g[(j+1)*p.w+i:]
	return (a[0]*(1-fx)+a[1]*fx)*(1-fy) + (b[0]*(1-fx)+b[1]*fx)*fy, true
}

// pose is where a circle of the gear is in a picture: center and half axes in points
// of that picture, the second axis as a share of the first, its turn in radians, and
// where the gear's middle is in the ellipse's own measure (each axis 1), which is off
// the ellipse's center where the camera was near.
type pose struct {
	x, y, a, q, turn, dx, dy float64
}

// size is the radius of the circle of the same area.
func (p pose) size() float64 { return p.a * math.Sqrt(p.q) }

// in is the pose in a picture k times as large.
func (p pose) in(k float64) pose {
	p.x, p.y, p.a = p.x*k, p.y*k, p.a*k
	return p
}

// lens turns angle and radius on the gear into the picture. A circle of radius rho
// about the gear's middle is seen as (x+d, y·√(1−d²))/(1+d·x) in the frame whose first
// axis points to where the middle is seen: the only map of the plane that takes the
// unit circle to itself and its middle there.
type lens struct {
	p          pose
	d, q       float64
	al, ca, sa float64
	c, s       float64
}

func newLens(p pose) lens {
	l := lens{p: p, d: math.Hypot(p.dx, p.dy), al: math.Atan2(p.dy, p.dx)}
	l.q = math.Sqrt(max(1-l.d*l.d, 0.01))
	l.sa, l.ca = math.Sincos(l.al)
	l.s, l.c = math.Sincos(p.turn)
	return l
}

func (l *lens) place(angle, rho float64) (x, y float64) {
	s, c := math.Sincos(angle - l.al)
	return l.placeOf(c, s, rho)
}

// placeOf is place for the cosine and sine of the angle less al.
func (l *lens) placeOf(c, s, rho float64) (x, y float64) {
	px, py := rho*c, rho*s
	k := 1 / (1 + l.d*px)
	u, v := (px+l.d)*k, l.q*py*k
	u, v = (u*l.ca-v*l.sa)*l.p.a, (u*l.sa+v*l.ca)*l.p.a*l.p.q
	return l.p.x + u*l.c - v*l.s, l.p.y + u*l.s + v*l.c
}
