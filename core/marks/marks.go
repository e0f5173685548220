// Package marks counts the teeth of a gear on a photo. Each tooth is tapped once; the
// circle of the tips, seen at an angle, is fitted as an ellipse, and the spacing of
// neighbors along that circle tells a tooth that was skipped or tapped twice.
//
// A circle seen from far is an affine image of itself: the angle on it is the
// ellipse's own parameter. Seen from near, spacing drifts slowly around the gear; that
// drift is taken off by its first two harmonics before neighbors are compared.
package marks

import (
	"fmt"
	"math"
	"slices"

	"zorvel/core/fault"
	"zorvel/core/say"
)

// Bounds of a question; the contract has the same.
const (
	MostMarks  = 400
	LeastMarks = 6
	mostPixel  = 1e5
)

// Point is where a tooth was tapped, in the picture's own measure.
type Point struct {
	X float64 `json:"x"`
	Y float64 `json:"y"`
}

// Question is the marks on a photo, in any order.
type Question struct {
	Points []Point `json:"points"`
}

// Kinds of what to look at.
const (
	Skipped = "skipped" // a tooth between two marks has none
	Doubled = "doubled" // two marks on one tooth
	Hidden  = "hidden"  // several teeth are out of sight
	Off     = "off"     // a mark lies beside the circle
)

// Look is one place to look at again.
type Look struct {
	Kind  string `json:"kind"`
	Point Point  `json:"at"`              // where: between two marks, or at one
	Marks []int  `json:"marks"`           // the marks beside it, by their place in the question
	Teeth int    `json:"teeth,omitempty"` // that are missing there
	Words string `json:"words"`
}

// Answer is the count with what speaks against it.
type Answer struct {
	Sentence string  `json:"sentence"`
	Count    int     `json:"count"` // with what was skipped, doubled and hidden
	Marked   int     `json:"marked"`
	Even     bool    `json:"even"`   // every neighbor is one tooth apart: the count can be taken
	Chance   float64 `json:"chance"` // that the count is right, as far as spacing tells
	Order    []int   `json:"order"`  // the marks around the gear, by their place in the question
	Looks    []Look  `json:"looks"`
	Ellipse  Ellipse `json:"ellipse"`
	Degrees  float64 `json:"spacing_deg"` // of one tooth
	Spread   float64 `json:"spread"`      // of a gap, as a part of the spacing: one standard deviation
	Tilt     float64 `json:"tilt_deg"`    // by which the gear is seen from the side
}

// Work counts. Faults are fault.Errors.
func Work(q Question) (*Answer, error) {
	if err := fault.Figures(q); err != nil {
		return nil, err
	}
	var errs fault.Errors
	if len(q.Points) < LeastMarks || len(q.Points) > MostMarks {
		errs.Add("points", "from %d to %d marks, one on each tooth", LeastMarks, MostMarks)
		return nil, errs
	}
	for i, p := range q.Points {
		if !(math.Abs(p.X) <= mostPixel && math.Abs(p.Y) <= mostPixel) {
			errs.Add(fmt.Sprintf("points/%d", i), "a place on the picture")
		}
	}
	if err := errs.Err(); err != nil {
		return nil, err
	}
	e, err := fit(q.Points)
	if err != nil {
		return nil, fault.New("points", "%s", err)
	}
	c := &counting{q: q.Points, e: e, a: &Answer{Marked: len(q.Points), Looks: []Look{}, Ellipse: e}}
	c.around()
	if !c.space() {
		return nil, fault.New("points", "the spacing says nothing: mark more teeth, one after the other")
	}
	c.judge()
	c.say()
	return c.a, nil
}

type counting struct {
	q      []Point
	e      Ellipse
	a      *Answer
	angle  []float64 // of each mark around, in order
	gap    []float64 // to the next, in teeth
	tooth  float64   // radians
	spread float64
}

// around puts the marks into order around the gear.
func (c *counting) around() {
	n := len(c.q)
	angles := make([]float64, n)
	sin, cos := math.Sincos(c.e.Turn)
	off := make([]float64, n)
	for i, p := range c.q {
		x, y := p.X-c.e.X, p.Y-c.e.Y
		u, v := (x*cos+y*sin)/c.e.A, (y*cos-x*sin)/c.e.B
		angles[i], off[i] = math.Atan2(v, u), math.Hypot(u, v)-1
	}
	c.a.Order = make([]int, n)
	for i := range c.a.Order {
		c.a.Order[i] = i
	}
	slices.SortFunc(c.a.Order, func(a, b int) int {
		switch {
		case angles[a] < angles[b]:
			return -1
		case angles[a] > angles[b]:
			return 1
		}
		return a - b
	})
	c.angle = make([]float64, n)
	for k, i := range c.a.Order {
		c.angle[k] = angles[i]
		if math.Abs(off[i]) > 0.12 {
			c.a.Looks = append(c.a.Looks, Look{Kind: Off, Point: c.q[i], Marks: []int{i},
				Words: fmt.Sprintf("mark %d is off the circle of the others", i+1)})
		}
	}
	c.a.Tilt = say.Round(math.Acos(math.Min(1, c.e.B/c.e.A))*180/math.Pi, 0)
}

// space finds the spacing of one tooth: that which most gaps are whole multiples of,
// then how it drifts around the gear. gap is each gap in teeth.
func (c *counting) space() bool {
	n := len(c.angle)
	raw := make([]float64, n)
	for k := range raw {
		next := c.angle[(k+1)%n]
		if k == n-1 {
			next += 2 * math.Pi
		}
		raw[k] = next - c.angle[k]
	}
	sorted := slices.Sorted(slices.Values(raw))
	c.tooth = sorted[n/2]
	if !(c.tooth > 0) {
		return false
	}
	drift := make([]float64, n)
	for k := range drift {
		drift[k] = 1
	}
	for range 4 {
		c.gap = make([]float64, n)
		var single []int
		for k := range raw {
			c.gap[k] = raw[k] / (c.tooth * drift[k])
			if c.gap[k] > 0.6 && c.gap[k] < 1.5 {
				single = append(single, k)
			}
		}
		if len(single) < 4 {
			return false
		}
		drift = c.drift(raw, single)
	}
	return true
}

// drift fits the spacing of single teeth as mean + first two harmonics of the
// angle where enough of the circle is in sight; c.tooth becomes the mean.
func (c *counting) drift(raw []float64, single []int) []float64 {
	terms := 1
	if len(single) >= 16 {
		terms = 5
	} else if len(single) >= 9 {
		terms = 3
	}
	basis := func(k int) []float64 {
		mid := c.angle[k] + raw[k]/2
		return []float64{1, math.Cos(mid), math.Sin(mid), math.Cos(2 * mid), math.Sin(2 * mid)}[:terms]
	}
	w := least(single, basis, raw)
	out := make([]float64, len(raw))
	sum := 0.0
	for k := range raw {
		v := 0.0
		for i, b := range basis(k) {
			v += w[i] * b
		}
		out[k] = math.Max(v, w[0]/3)
	}
	c.tooth = w[0]
	for k := range out {
		out[k] /= c.tooth
	}
	for _, k := range single {
		d := raw[k]/(c.tooth*out[k]) - 1
		sum += d * d
	}
	c.spread = math.Sqrt(sum / float64(max(1, len(single)-terms)))
	return out
}

// least solves the normal equations of a small linear fit, with a hair of
// regularization so that a part of a circle can't blow the harmonics up.
func least(at []int, basis func(int) []float64, y []float64) []float64 {
	n := len(basis(at[0]))
	m := make([][]float64, n)
	for i := range m {
		m[i] = make([]float64, n+1)
	}
	for _, k := range at {
		b := basis(k)
		for i := range n {
			for j := range n {
				m[i][j] += b[i] * b[j]
			}
			m[i][n] += b[i] * y[k]
		}
	}
	for i := 1; i < n; i++ {
		m[i][i] += 0.05 * float64(len(at))
	}
	for i := range n {
		p := i
		for r := i + 1; r < n; r++ {
			if math.Abs(m[r][i]) > math.Abs(m[p][i]) {
				p = r
			}
		}
		m[i], m[p] = m[p], m[i]
		for r := range n {
			if r != i && m[i][i] != 0 {
				f := m[r][i] / m[i][i]
				for k := i; k <= n; k++ {
					m[r][k] -= f * m[i][k]
				}
			}
		}
	}
	out := make([]float64, n)
	for i := range n {
		if m[i][i] != 0 {
			out[i] = m[i][n] / m[i][i]
		}
	}
	return out
}

// judge counts gaps in teeth and names those that aren't one.
func (c *counting) judge() {
	n := len(c.gap)
	count, chance := 0, 1.0
	for k, g := range c.gap {
		teeth, sure := c.teeth(g)
		i, j := c.a.Order[k], c.a.Order[(k+1)%n]
		look := Look{Point: c.on(c.angle[k] + g*c.tooth/2), Marks: []int{i, j}, Teeth: max(0, teeth-1)}
		switch {
		case teeth == 0: // two marks on one tooth
			look.Kind, look.Words = Doubled, fmt.Sprintf("marks %d and %d are %s of a tooth apart: one tooth marked twice?", i+1, j+1, say.Trim(g, 2))
		case teeth == 2, teeth == 3:
			look.Kind, look.Words = Skipped, fmt.Sprintf("between marks %d and %d there is room for %s: skipped?", i+1, j+1, missing(teeth-1))
		case teeth > 3:
			look.Kind, look.Words = Hidden, fmt.Sprintf("about %d teeth between marks %d and %d are not marked: out of sight? Turn the gear and mark them.", teeth-1, i+1, j+1)
		}
		if look.Kind != "" {
			c.a.Looks = append(c.a.Looks, look)
		}
		count += teeth
		chance *= sure
	}
	c.a.Count, c.a.Chance = count, say.Round(chance, 3)
	c.a.Degrees, c.a.Spread = say.Round(c.tooth*180/math.Pi, 3), say.Round(c.spread, 3)
	c.a.Even = len(c.a.Looks) == 0
}

// How often a tooth is skipped or tapped twice: typical.
const skips = 0.02

// teeth is how many teeth a gap most likely holds, and how sure that is: Bayes' rule
// over numbers of teeth, each with the spread of two taps and, for a long gap, that of
// the spacing itself, which adds up along it.
func (c *counting) teeth(g float64) (int, float64) {
	sigma := math.Max(c.spread, 0.03)
	near := int(math.Round(g))
	best, top, sum := near, -1.0, 0.0
	for k := max(0, near-3); k <= near+3; k++ {
		prior := 1 - 2*skips
		switch {
		case k == 0:
			prior = skips
		case k > 1:
			prior = skips / float64(k)
		}
		s := sigma
		if k > 1 {
			s = math.Hypot(sigma, 0.03*float64(k))
		}
		z := (g - float64(k)) / s
		// A tap that slipped far is rare, and not impossible.
		p := prior * (math.Exp(-z*z/2)/s + 1e-4)
		sum += p
		if p > top {
			best, top = k, p
		}
	}
	return best, top / sum
}

// on is a place on the ellipse.
func (c *counting) on(angle float64) Point {
	s, k := math.Sincos(angle)
	sin, cos := math.Sincos(c.e.Turn)
	return Point{say.Round(c.e.X+c.e.A*k*cos-c.e.B*s*sin, 1), say.Round(c.e.Y+c.e.A*k*sin+c.e.B*s*cos, 1)}
}

func missing(n int) string {
	if n == 1 {
		return "one tooth"
	}
	return fmt.Sprintf("%d teeth", n)
}

func (c *counting) say() {
	a := c.a
	switch {
	case a.Even:
		a.Sentence = fmt.Sprintf("%d teeth: every mark is one tooth from the next.", a.Count)
	case a.Count == a.Marked:
		a.Sentence = fmt.Sprintf("%d marks, and perhaps as many teeth: look where it points.", a.Marked)
	default:
		a.Sentence = fmt.Sprintf("%d marks, but the spacing says %d teeth: look where it points.", a.Marked, a.Count)
	}
	if a.Tilt >= 60 {
		a.Sentence += " It is seen very much from the side: a photo from the front is surer."
	}
}
