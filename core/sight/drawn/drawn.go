// Package drawn makes pictures of gears whose number of teeth is known: a bench, one
// light, a camera held by hand at some angle, wear, oil, a cap in the way. Counting is
// tried on them, in tests and in practice. They are shapes given by their distance
// (Hart 1996, sphere tracing), one ray a point; nothing in them is a photo.
package drawn

import (
	"math"
	"math/rand/v2"
	"slices"
)

// Kinds of what lies on the bench.
const (
	Spur     = "spur"
	Helical  = "helical"
	Ring     = "ring_gear"
	Pinion   = "pinion"
	Sprocket = "sprocket"
	Internal = "internal_ring"
	Flange   = "flange" // no gear: a hub with bolts
	Disc     = "disc"   // no gear: a smooth disc with holes
)

// Kinds are all of them that have teeth.
var Kinds = []string{Spur, Helical, Ring, Pinion, Sprocket, Internal}

// Scene is one picture to be made. Lengths are in radii of the tips.
type Scene struct {
	Kind   string
	Teeth  int
	Width  int // points
	Height int
	Tilt   float64 // radians between the gear's axis and the line to the camera
	Around float64 // radians, to which side it is tilted
	Near   float64 // radii from the camera to the gear: small is near
	Size   float64 // of the tips' circle, as a share of the shorter side's half
	Right  float64 // where the gear is, from the middle, in shares of the half width
	Down   float64
	Light  float64 // radians, from which side
	Raking float64 // radians above the bench
	Shade  float64 // what the light does not reach, 0 black to 1 even
	Blur   float64 // points
	Noise  float64 // gray values, one sigma
	Rust   float64 // 0 clean to 1 all over
	Broken bool    // one tooth is
	Cap    float64 // radians of the rim a cap hides
	Cover  float64 // radians, where the cap is
	Seed   uint64
}

// Photo is the picture and where the gear is on it.
type Photo struct {
	Gray          []uint8
	Width, Height int
	X, Y          float64 // where the gear's middle is
}

// Draw makes the picture.
func Draw(s Scene) Photo {
	w := newWorld(s)
	gray := make([]float64, s.Width*s.Height)
	for y := range s.Height {
		for x := range s.Width {
			gray[y*s.Width+x] = w.look(float64(x)+0.5, float64(y)+0.5)
		}
	}
	if s.Blur > 0 {
		soften(gray, s.Width, s.Height, s.Blur)
	}
	r := rand.New(rand.NewPCG(s.Seed, 1))
	out := Photo{Gray: make([]uint8, len(gray)), Width: s.Width, Height: s.Height}
	for i, v := range gray {
		out.Gray[i] = uint8(min(max(v+r.NormFloat64()*s.Noise, 0), 255))
	}
	out.X, out.Y = w.project(w.middle())
	return out
}

// soften blurs by three boxes, which is nearly a bell.
func soften(g []float64, w, h int, sigma float64) {
	half := max(int(math.Round(sigma*0.9)), 1)
	line := make([]float64, max(w, h))
	pass := func(n int, at func(int) *float64) {
		for i := range n {
			sum, c := 0.0, 0
			for k := max(i-half, 0); k <= min(i+half, n-1); k++ {
				sum += *at(k)
				c++
			}
			line[i] = sum / float64(c)
		}
		for i := range n {
			*at(i) = line[i]
		}
	}
	for range 3 {
		for y := range h {
			pass(w, func(i int) *float64 { return &g[y*w+i] })
		}
		for x := range w {
			pass(h, func(i int) *float64 { return &g[i*w+x] })
		}
	}
}

type vec struct{ x, y, z float64 }

func (a vec) add(b vec) vec       { return vec{a.x + b.x, a.y + b.y, a.z + b.z} }
func (a vec) times(k float64) vec { return vec{a.x * k, a.y * k, a.z * k} }
func (a vec) dot(b vec) float64   { return a.x*b.x + a.y*b.y + a.z*b.z }
func (a vec) cross(b vec) vec     { return vec{a.y*b.z - a.z*b.y, a.z*b.x - a.x*b.z, a.x*b.y - a.y*b.x} }
func (a vec) unit() vec           { return a.times(1 / math.Sqrt(a.dot(a))) }
func (a vec) less(b vec) vec      { return a.add(b.times(-1)) }

type world struct {
	Scene
	eye, right, down, ahead, light vec
	focal                          float64
	broken                         int
	metal, ground                  float64
	holes                          int
	seedA, seedB                   float64
	thick                          float64
	turn                           float64
}

func newWorld(s Scene) *world {
	r := rand.New(rand.NewPCG(s.Seed, 2))
	w := &world{Scene: s, metal: 90 + 100*r.Float64(), ground: 50 + 120*r.Float64(), holes: 4 + r.IntN(9),
		seedA: r.Float64() * 100, seedB: r.Float64() * 100, turn: r.Float64() * 2 * math.Pi, broken: -1}
	w.thick = map[string]float64{Spur: 0.22, Helical: 0.25, Ring: 0.32, Pinion: 0.9, Sprocket: 0.07, Internal: 0.22,
		Flange: 0.2, Disc: 0.15}[s.Kind]
	if s.Broken && s.Teeth > 0 {
		w.broken = r.IntN(s.Teeth)
	}
	sa, ca := math.Sincos(s.Around)
	st, ct := math.Sincos(s.Tilt)
	w.eye = vec{st * ca, st * sa, ct}.times(s.Near).add(vec{0, 0, w.thick})
	w.ahead = vec{st * ca, st * sa, ct}.times(-1)
	up := vec{-sa, ca, 0}
	if r.IntN(2) == 0 {
		up = up.times(-1)
	}
	w.right = w.ahead.cross(up).unit()
	w.down = w.ahead.cross(w.right)
	w.focal = s.Size * float64(min(s.Width, s.Height)) / 2 * s.Near
	// The camera looks past the gear: its axis goes through the middle of the picture.
	u, v := s.Right*float64(s.Width)/2/w.focal, s.Down*float64(s.Height)/2/w.focal
	gear := w.ahead
	w.ahead = gear.less(w.right.times(u)).less(w.down.times(v)).unit()
	w.right = w.right.less(w.ahead.times(w.right.dot(w.ahead))).unit()
	w.down = w.ahead.cross(w.right)
	w.light = vec{math.Cos(s.Light) * math.Cos(s.Raking), math.Sin(s.Light) * math.Cos(s.Raking), math.Sin(s.Raking)}
	return w
}

// middle is the middle of the gear's face.
func (w *world) middle() vec { return vec{0, 0, w.thick} }

// project is where a place in the world is in the picture.
func (w *world) project(p vec) (x, y float64) {
	d := p.less(w.eye)
	k := w.focal / d.dot(w.ahead)
	return float64(w.Width)/2 + d.dot(w.right)*k, float64(w.Height)/2 + d.dot(w.down)*k
}

// look is the gray value a point of the picture sees.
func (w *world) look(x, y float64) float64 {
	u, v := (x-float64(w.Width)/2)/w.focal, (y-float64(w.Height)/2)/w.focal
	ray := w.ahead.add(w.right.times(u)).add(w.down.times(v)).unit()
	t := 0.0
	if w.eye.z > 1.1 && ray.z < 0 { // down to the height where things begin
		t = (w.eye.z - 1.1) / -ray.z
	}
	for range 90 {
		p := w.eye.add(ray.times(t))
		d := w.distance(p)
		if d < 0.002 {
			return w.shade(p, ray)
		}
		if t += d * 0.7; t > 60 {
			break
		}
	}
	return w.ground * 0.5
}

// shade is the light that comes back from a place: what is all around, the lamp, its
// glint on metal, less in the shadow and where there is rust or oil.
func (w *world) shade(p, ray vec) float64 {
	const e = 0.004
	d := w.distance(p)
	n := vec{w.distance(p.add(vec{x: e})) - d, w.distance(p.add(vec{y: e})) - d, w.distance(p.add(vec{z: e})) - d}
	if n.dot(n) == 0 {
		n.z = 1
	}
	n = n.unit()
	bright, glint := w.ground*(0.8+0.4*w.grain(p, 1.7)), 0.0
	if p.z > 0.01 {
		bright, glint = w.metal, 90
		if w.grain(p, 2.3) < w.Rust {
			bright, glint = w.metal*0.55*(0.7+0.6*w.grain(p, 9)), 5
		}
	}
	lit := max(n.dot(w.light), 0)
	if lit > 0 && w.hidden(p.add(n.times(0.01))) {
		lit = 0
	}
	half := w.light.less(ray).unit()
	return bright*(w.Shade*(0.6+0.4*n.z)+(1-w.Shade)*1.3*lit) + glint*math.Pow(max(n.dot(half), 0), 18)*lit
}

func (w *world) hidden(p vec) bool {
	for t, k := 0.02, 0; t < 2.5 && k < 30; k++ {
		d := w.distance(p.add(w.light.times(t)))
		if d < 0.003 {
			return true
		}
		t += max(d*0.8, 0.01)
	}
	return false
}

// grain is smooth noise from 0 to 1.
func (w *world) grain(p vec, k float64) float64 {
	sum, weight := 0.0, 0.0
	for o := range 3 {
		f := k * math.Pow(2.1, float64(o))
		a := math.Pow(0.6, float64(o))
		sum += a * lattice(p.x*f+w.seedA, p.y*f+w.seedB)
		weight += a
	}
	return sum / weight
}

func lattice(x, y float64) float64 {
	i, j := math.Floor(x), math.Floor(y)
	fx, fy := x-i, y-j
	fx, fy = fx*fx*(3-2*fx), fy*fy*(3-2*fy)
	h := func(a, b float64) float64 {
		n := uint64(int64(a))*0x9E3779B97F4A7C15 ^ uint64(int64(b))*0xC2B2AE3D27D4EB4F
		n ^= n >> 29
		n *= 0xBF58476D1CE4E5B9
		n ^= n >> 32
		return float64(n&0xFFFF) / 0xFFFF
	}
	return (h(i, j)*(1-fx)+h(i+1, j)*fx)*(1-fy) + (h(i, j+1)*(1-fx)+h(i+1, j+1)*fx)*fy
}

// distance is how far a place is from anything, below zero inside.
func (w *world) distance(p vec) float64 {
	d := p.z
	r := math.Hypot(p.x, p.y)
	if r < 1.5 && p.z < 1.3 {
		d = min(d, w.thing(p, r))
	} else {
		d = min(d, max(r-1.4, p.z-1.2, 0.1))
	}
	if w.Cap > 0 {
		d = min(d, w.cover(p))
	}
	return d
}

// cover is a cap over part of the rim.
func (w *world) cover(p vec) float64 {
	s, c := math.Sincos(w.Cover)
	u, v := p.x*c+p.y*s, p.y*c-p.x*s
	half := math.Sin(w.Cap / 2)
	return max(math.Abs(v)-half, 0.45-u, u-1.6, p.z-w.thick-0.25)
}

// thing is the distance to what lies on the bench, roughly.
func (w *world) thing(p vec, r float64) float64 {
	phi := math.Atan2(p.y, p.x) - w.turn
	flat := max(p.z-w.thick, -p.z)
	switch w.Kind {
	case Spur:
		return max(w.toothed(r, phi, 0.80, 0.5), flat, w.bore(p, r, phi))
	case Helical:
		return max(w.toothed(r, phi+0.35*(p.z-w.thick), 0.84, 0.5), flat, w.bore(p, r, phi))
	case Sprocket:
		return max(w.toothed(r, phi, 0.78, 0.36), flat, w.bore(p, r, phi))
	case Internal:
		return max(-w.toothed(r/0.97, phi, 0.9, 0.5), r-1.12, flat)
	case Ring:
		// teeth on a cone that falls outward, leaning with the radius
		top := w.thick * (1 - 0.55*max(r-0.68, 0)/0.32)
		groove := 0.0
		if r > 0.68 {
			groove = 0.16 * min(max(1.15-1.8*w.wave(phi+1.1*(r-0.68)), 0), 1) * min((r-0.68)/0.05, 1)
		}
		return max((p.z-top+groove)*0.75, -p.z, r-1, 0.5-r, w.bolts(r, phi, 0.59, 0.028))
	case Pinion:
		// a cone, thick below, its teeth leaning with the height
		edge := 0.62 + 0.38*(1-p.z/w.thick)
		lean := 0.8 * (p.z / w.thick)
		return max(w.toothed(r/edge, phi+lean, 0.74, 0.5)*edge*0.8, flat, 0.16-r)
	case Flange:
		body := max(r-1, flat)
		step := 2 * math.Pi / float64(w.holes)
		a := math.Remainder(phi, step)
		bolt := max(math.Hypot(r*math.Cos(a)-0.76, r*math.Sin(a))-0.09, p.z-w.thick-0.12, -p.z)
		hub := max(r-0.42, p.z-w.thick-0.3, -p.z, 0.25-r)
		return min(max(body, 0.25-r), bolt, hub)
	}
	return max(r-1, flat, w.bore(p, r, phi))
}

// toothed is the distance to the outline of a wheel of radius 1, whose teeth take the
// given share of the pitch.
func (w *world) toothed(r, phi, root, share float64) float64 {
	h := w.wave(phi)
	edge := root + (1-root)*min(max(h*2.2-(1-share)*1.1, 0), 1)
	return (r - edge) * 0.5
}

// wave is 1 in the middle of a tooth and 0 in the middle of a gap.
func (w *world) wave(phi float64) float64 {
	a := phi / (2 * math.Pi) * float64(w.Teeth)
	k := int(math.Round(a))
	if w.broken >= 0 && ((k%w.Teeth)+w.Teeth)%w.Teeth == w.broken {
		return 0.2 * (1 - 2*math.Abs(a-math.Round(a)))
	}
	return 1 - 2*math.Abs(a-math.Round(a))
}

// bore is the distance to what is taken out of a wheel: the bore, holes in the web and
// the web itself, which is thinner than the rim.
func (w *world) bore(p vec, r, phi float64) float64 {
	web := min(0.7-r, r-0.3, p.z-w.thick*0.7)
	return max(0.14-r, w.bolts(r, phi, 0.5, 0.1), web)
}

// bolts is the distance to holes on a circle, from outside.
func (w *world) bolts(r, phi, at, size float64) float64 {
	step := 2 * math.Pi / float64(w.holes)
	a := math.Remainder(phi, step)
	return size - math.Hypot(r*math.Cos(a)-at, r*math.Sin(a))
}

// Levels of how hard a picture is to count on.
const (
	Easy     = "easy"
	Medium   = "medium"
	Hard     = "hard"
	Hopeless = "hopeless"
)

// Some is a scene by chance, as hard as is said. A hopeless one is blurred beyond
// counting, or has no teeth.
func Some(level string, seed uint64) Scene {
	r := rand.New(rand.NewPCG(seed, 3))
	in := func(a, b float64) float64 { return a + (b-a)*r.Float64() }
	k := slices.Index([]string{Easy, Medium, Hard, Hopeless}, level)
	worst := []float64{0.35, 0.65, 1, 0.7}[k]
	s := Scene{Kind: Kinds[r.IntN(len(Kinds))], Width: 640, Height: 480, Seed: seed,
		Tilt: in(0.02, 0.85*worst), Around: in(0, 2*math.Pi), Near: in(0.68, 1.25), Size: in(0.55, 0.85),
		Right: in(-0.15, 0.15), Down: in(-0.12, 0.12), Light: in(0, 2*math.Pi), Raking: in(0.5, 1.2),
		Shade: in(0.25, 0.6), Blur: in(0, 1.4*worst), Noise: in(1, 9*worst), Rust: in(0, 0.7*worst)}
	// So far is a lens of that many widths of the picture.
	s.Near *= float64(s.Width) / (s.Size * float64(s.Height) / 2)
	switch s.Kind {
	case Ring:
		s.Teeth = 33 + r.IntN(22)
	case Pinion:
		s.Teeth = 7 + r.IntN(11)
	case Sprocket:
		s.Teeth = 11 + r.IntN(22)
	case Internal:
		s.Teeth = 40 + r.IntN(36)
	default:
		s.Teeth = 15 + r.IntN(42)
	}
	s.Broken = k > 0 && r.IntN(5) == 0
	if k > 0 && r.IntN(3) > 0 {
		s.Cap, s.Cover = in(0.3, 2.1*worst), in(0, 2*math.Pi)
	}
	if level == Hopeless {
		switch r.IntN(3) {
		case 0:
			s.Kind, s.Teeth = Flange, 0
		case 1:
			s.Kind, s.Teeth = Disc, 0
		default:
			s.Blur = s.Size * float64(s.Height) / 2 * 2 * math.Pi / float64(s.Teeth) * in(0.4, 0.8)
		}
	}
	return s
}
