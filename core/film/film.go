// Package film counts turning discs in moving pictures: chalk marks on a hub and a flange
// that a camera on a stand sees.
//
// A disc is unrolled around its middle, a share of its radius inside the rim, where a
// chalk mark reaches and bolts don't. What is brighter there than its surroundings is
// chalk; m marks placed evenly make the m-th harmonic of it along the circle, whose phase
// is the disc's angle, to a degree or so, whatever the light does. From picture to picture
// the angle is followed as long as a mark moves less than half the way to the next.
package film

import (
	"fmt"
	"math"
	"math/cmplx"
	"slices"

	"zorvel/core/fault"
	"zorvel/core/live"
)

// Picture is gray values, row by row from the top.
type Picture struct {
	Width, Height int
	Gray          []uint8
}

// Box is where a disc is in the picture, in pixels; it touches the disc's rim.
type Box struct {
	X float64 `json:"x"`
	Y float64 `json:"y"`
	W float64 `json:"w"`
	H float64 `json:"h"`
}

// Watch is a disc to be followed: which shaft it is on, where it is, and how many chalk
// marks it bears, evenly placed.
type Watch struct {
	Shaft live.Shaft `json:"shaft"`
	Box   Box        `json:"box"`
	Marks int        `json:"marks"`
}

// State is how a disc is seen.
type State string

// The states.
const (
	Followed State = "followed"
	NoMark   State = "no_mark"  // no chalk is seen on it
	Lost     State = "lost"     // its mark went out of sight while it turned
	TooFast  State = "too_fast" // a mark moves about half the way to the next from picture to picture
)

// Disc is what was seen of a disc so far.
type Disc struct {
	Shaft live.Shaft `json:"shaft"`
	State State      `json:"state"`
	// Turns net and in all, clockwise positive as seen; nothing where it can't be told.
	Turns float64 `json:"turns"`
	Total float64 `json:"total"`
	// Angle of the mark now, in turns from twelve o'clock.
	Angle float64 `json:"angle"`
	// Hidden pictures in which the mark wasn't seen, and was followed across.
	Hidden   int    `json:"hidden"`
	Sentence string `json:"sentence"`
}

// Film follows discs from picture to picture.
type Film struct {
	trackers []*tracker
	pictures int
	before   float64
}

// Bounds of a film.
const (
	MostDiscs  = 3
	MostSide   = 4000
	leastSide  = 12
	mostMarks  = 12
	MostFrames = 60_000
)

// New begins a film of pictures so large. Errors are fault.Errors.
func New(width, height int, watch []Watch) (*Film, error) {
	var odd fault.Errors
	if width < leastSide || height < leastSide || width > MostSide || height > MostSide {
		odd.Add("width", "a picture of %d by %d: each side should be %d to %d pixels", width, height, leastSide,
			MostSide)
	}
	if len(watch) == 0 || len(watch) > MostDiscs {
		odd.Add("watch", "draw a box over 1 to %d discs", MostDiscs)
	}
	f := &Film{}
	seen := map[live.Shaft]bool{}
	for i, w := range watch {
		at := fmt.Sprintf("watch/%d", i)
		switch w.Shaft {
		case live.Input, live.Left, live.Right, live.Output:
		default:
			odd.Add(at+"/shaft", "say which shaft it is: shaft, left, right or output")
		}
		if seen[w.Shaft] {
			odd.Add(at+"/shaft", "another box is on this shaft already")
		}
		seen[w.Shaft] = true
		if w.Marks < 1 || w.Marks > mostMarks {
			odd.Add(at+"/marks", "a disc bears 1 to %d chalk marks", mostMarks)
		}
		b := w.Box
		inside := b.X >= -b.W/4 && b.Y >= -b.H/4 && b.X+b.W <= float64(width)+b.W/4 && b.Y+b.H <= float64(height)+b.H/4
		if !(b.W >= leastSide && b.H >= leastSide && inside) {
			odd.Add(at+"/box", "a box is %d pixels wide and high or more, and within the picture", leastSide)
		}
		f.trackers = append(f.trackers, newTracker(w))
	}
	if err := odd.Err(); err != nil {
		return nil, err
	}
	return f, nil
}

// See looks at the next picture, taken at a time in seconds.
func (f *Film) See(p Picture, at float64) error {
	switch {
	case p.Width < leastSide || p.Height < leastSide || len(p.Gray) < p.Width*p.Height:
		return fault.New("picture", "%d gray values for %d by %d pixels", len(p.Gray), p.Width, p.Height)
	case f.pictures > 0 && !(at > f.before) || at-at != 0:
		return fault.New("at", "each picture must be later than the one before")
	case f.pictures >= MostFrames:
		return fault.New("picture", "a film has at most %d pictures", MostFrames)
	}
	f.pictures++
	f.before = at
	for _, t := range f.trackers {
		t.see(p, at)
	}
	return nil
}

// Discs are what was seen so far.
func (f *Film) Discs() []Disc {
	out := make([]Disc, len(f.trackers))
	for i, t := range f.trackers {
		out[i] = t.disc()
	}
	return out
}

// Recording is the angles of the discs that could be followed, for live.Weigh.
func (f *Film) Recording() live.Recording {
	r := live.Recording{Sources: []live.Source{}}
	for _, t := range f.trackers {
		if t.state == Followed && len(t.times) > 0 {
			r.Sources = append(r.Sources, live.Source{Shaft: t.watch.Shaft, Times: slices.Clone(t.times),
				Degrees: slices.Clone(t.degrees), Sure: angleSure, Clock: "camera"})
		}
	}
	return r
}

// angleSure is the standard deviation of an angle, in degrees: a box that is off by a
// pixel or two.
const angleSure = 2

// Where a disc is looked at, as shares of its radius, and how finely.
const (
	innerRing = 0.6
	outerRing = 0.98
	rings     = 9
	around    = 240
)

// profile is the brightness of a disc along its circle, clockwise from twelve o'clock.
func profile(p Picture, b Box) []float64 {
	cx, cy := b.X+b.W/2, b.Y+b.H/2
	rx, ry := b.W/2, b.H/2
	out := make([]float64, around)
	for i := range out {
		a := 2 * math.Pi * float64(i) / around
		sin, cos := math.Sincos(a)
		sum, n := 0.0, 0.0
		for k := range rings {
			r := innerRing + (outerRing-innerRing)*float64(k)/(rings-1)
			if v, ok := p.at(cx+rx*r*sin, cy-ry*r*cos); ok {
				sum, n = sum+v, n+1
			}
		}
		if n > 0 {
			out[i] = sum / n
		}
	}
	return out
}

// at is the brightness between pixels; pixel (0, 0) has its middle at (0.5, 0.5).
func (p Picture) at(x, y float64) (float64, bool) {
	x, y = x-0.5, y-0.5
	if x < 0 || y < 0 || x > float64(p.Width-1) || y > float64(p.Height-1) {
		return 0, false
	}
	x0, y0 := int(x), int(y)
	x1, y1 := min(x0+1, p.Width-1), min(y0+1, p.Height-1)
	fx, fy := x-float64(x0), y-float64(y0)
	g := func(x, y int) float64 { return float64(p.Gray[y*p.Width+x]) }
	return (g(x0, y0)*(1-fx)+g(x1, y0)*fx)*(1-fy) + (g(x0, y1)*(1-fx)+g(x1, y1)*fx)*fy, true
}

// ground is what a circle looks like without chalk, at each place: light that doesn't turn
// with the disc, shine among it.
type ground struct{ light []float64 }

// chalk is what is brighter than the ground, and far brighter than the noise: what is left
// of a picture whose light may have changed as a whole. It learns the ground where no
// chalk is.
func (g *ground) chalk(p []float64, marks int) []float64 {
	if g.light == nil {
		g.light = around4(p, marks)
		for i, v := range g.light {
			g.light[i] = min(p[i], v)
		}
	}
	rest := make([]float64, len(p))
	size := make([]float64, len(p))
	for i, v := range p {
		rest[i] = v - g.light[i]
	}
	// Lamps flicker, clouds pass and shadows wander: wide parts change together.
	for i, wide := range around4(rest, marks) {
		rest[i] -= wide
		size[i] = math.Abs(rest[i])
	}
	noise := 1.5*middleOf(size) + 1
	least := max(3*noise, chalkShare*slices.Max(rest)) // bolts shine too, less
	out := make([]float64, len(p))
	for i, d := range rest {
		switch {
		case d > least:
			out[i] = d - noise
		case d < 0:
			g.light[i] += 0.2 * d
		default:
			g.light[i] += 0.05 * d
		}
	}
	return out
}

// Chalk is brighter than the ground by so much of the brightest there is.
const chalkShare = 0.4

// around4 is the middle of what is around each place, up to a quarter of the way to the
// next mark.
func around4(p []float64, marks int) []float64 {
	n := len(p)
	reach := n / (4 * marks)
	out := make([]float64, n)
	window := make([]float64, 0, 2*reach+1)
	for i := range p {
		window = window[:0]
		for k := -reach; k <= reach; k += 2 {
			window = append(window, p[(i+k+n)%n])
		}
		slices.Sort(window)
		out[i] = window[len(window)/2]
	}
	return out
}

func middleOf(v []float64) float64 {
	s := slices.Clone(v)
	slices.Sort(s)
	return s[len(s)/2]
}

// phase is where the marks are, in turns of a mark's distance times marks, and how much
// chalk there is and how well it stands together.
func phase(c []float64, marks int) (turns, amount, order float64) {
	var z complex128
	for i, v := range c {
		amount += v
		z += complex(v, 0) * cmplx.Rect(1, 2*math.Pi*float64(i*marks)/float64(len(c)))
	}
	if amount <= 0 {
		return 0, 0, 0
	}
	return cmplx.Phase(z) / (2 * math.Pi), amount, cmplx.Abs(z) / amount
}
