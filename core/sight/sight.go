// Package sight counts the teeth of a gear on a photo. It proposes; a person confirms.
//
// A gear seen at an angle is an ellipse, and its teeth are a periodic pattern along it,
// at several radii between root and tip. The package looks for circles that carry such a
// pattern, all over the picture and at every tilt; moves each to where all circles
// around it tell one count with the least drift of the spacing; compares the teeth with
// the metal they grow from, since light and dark change places around a gear; and says how
// sure it is by figures that were fitted to drawn gears of known number (package drawn).
//
// What it takes a pattern for: n teeth, each ring's phase free, so that helical and
// spiral teeth count as well. What it doubts: n − 1 and n + 1, which differ by one tooth's
// shift over the arc that is seen; half and double; bolts and holes, which are few and
// have metal on both sides.
//
// The cost is bounded: a small copy of the picture for the search (400 points), a middle
// one for the count (1,100), and a fixed number of places, whatever the photo's size.
package sight

import (
	"errors"
	"math"

	"zorvel/core/fault"
)

// Bounds of a picture, in points; the contract has the same.
const (
	LeastSide  = 120
	MostPoints = 50_000_000
)

// Point is a place on the photo, in its points from the top left.
type Point struct {
	X float64 `json:"x"`
	Y float64 `json:"y"`
}

// Box is a part of the photo, in its points from the top left.
type Box struct {
	Left   float64 `json:"left"`
	Top    float64 `json:"top"`
	Right  float64 `json:"right"`
	Bottom float64 `json:"bottom"`
}

// Question is a photo and, where a person pointed, the middle of the gear or a box around it.
type Question struct {
	Gray   []uint8 // 0 black to 255 white, rows from the top
	Width  int
	Height int
	Shrunk float64 // how many points of the photo one of these is wide; 0 is 1
	Tap    *Point
	Box    *Box
}

// States of an answer.
const (
	Sure    = "sure"   // nine times in ten or better
	Likely  = "likely" // better than even: check the marks
	Cant    = "cant"   // not to be used: at best a guess, with its chance
	sureAt  = 0.9
	likeAt  = 0.5
	guessAt = 0.08 // below this not even a guess is told
	mostArc = 0.45 // of the rim out of sight, beyond which that is what is in the way
)

// Count is a number of teeth and its chance.
type Count struct {
	Teeth  int     `json:"teeth"`
	Chance float64 `json:"chance"`
}

// Arc is a part of the rim on which teeth can't be seen, in degrees around the gear
// from its first mark, and how many teeth fit into it.
type Arc struct {
	From  float64 `json:"from_deg"`
	To    float64 `json:"to_deg"`
	Teeth int     `json:"teeth"`
}

// Answer is a count that a person confirms, with a mark for each tooth, or what is in the way.
type Answer struct {
	State    string   `json:"state"`
	Sentence string   `json:"sentence"`
	Teeth    int      `json:"teeth,omitempty"` // 0 where not even a guess can be made
	Chance   float64  `json:"chance"`
	Others   []Count  `json:"others"`
	Marks    []Point  `json:"marks"`    // one on each tooth, in order around the gear; none on hidden ones
	Doubtful []Point  `json:"doubtful"` // places to look at: weak, broken or covered teeth
	Hidden   []Arc    `json:"hidden"`
	Tilt     float64  `json:"tilt_deg"`
	Blocked  string   `json:"blocked,omitempty"` // what is in the way: one of the words below
	Advice   []string `json:"advice"`            // what photo would do
	Why      Why      `json:"why"`
}

// What is in the way.
const (
	Blurred     = "blurred"
	Covered     = "covered"
	CloseCounts = "close_counts" // two that the photo doesn't tell apart
	NoTeeth     = "no_teeth"
)

// Why is the figures the count and its chance come from.
type Why struct {
	Evidence float64 `json:"evidence"`         // of the count, as a logarithm
	Next     Count   `json:"next"`             // the best other count; its chance is its share of what is left
	Line     float64 `json:"share"`            // of the contrast along the rim that the teeth explain
	Rest     float64 `json:"phase_spread"`     // of a tooth's place, as a part of the spacing
	Seen     float64 `json:"seen"`             // of the rim
	Pixels   float64 `json:"points_per_tooth"` // on the photo
}

var errSize = errors.New("a picture of that many points: width times height")

// Work looks at a photo. Faults are fault.Errors at "image", "tap" or "box".
func Work(q Question) (*Answer, error) {
	if err := check(q); err != nil {
		return nil, err
	}
	p := &picture{g: make([]float32, len(q.Gray)), w: q.Width, h: q.Height, scale: q.shrunk()}
	for i, v := range q.Gray {
		p.g[i] = float32(v)
	}
	all := look(p, where{tap: q.Tap, box: q.Box})
	a := &Answer{State: Cant, Others: []Count{}, Marks: []Point{}, Doubtful: []Point{}, Hidden: []Arc{},
		Advice: []string{}}
	if len(all) > 0 {
		a.weigh(all)
	}
	if a.Chance < likeAt {
		a.block(p)
	}
	if a.Teeth > 0 {
		r := newReader(p.atMost(middle), points)
		a.mark(r, r.again(&all[0]))
	}
	a.say()
	return a, nil
}

func check(q Question) error {
	var errs fault.Errors
	if q.Width <= 0 || q.Height <= 0 || q.Width > MostPoints/q.Height || len(q.Gray) != q.Width*q.Height {
		errs.Add("image", "%s", errSize)
		return errs
	}
	if min(q.Width, q.Height) < LeastSide {
		errs.Add("image", "at least %d points wide and high", LeastSide)
	}
	k := q.shrunk()
	if !(k >= 1 && k <= 1000) {
		errs.Add("image", "shrunk by 1 to 1,000")
	}
	in := func(x, y float64) bool {
		return x >= 0 && y >= 0 && x <= float64(q.Width)*k && y <= float64(q.Height)*k
	}
	if t := q.Tap; t != nil && !in(t.X, t.Y) {
		errs.Add("tap", "a place on the photo")
	}
	if b := q.Box; b != nil {
		if !in(b.Left, b.Top) || !in(b.Right, b.Bottom) || !(min(b.Right-b.Left, b.Bottom-b.Top) >= 40) {
			errs.Add("box", "a part of the photo, at least 40 points wide and high")
		}
	}
	return errs.Err()
}

func (q Question) shrunk() float64 {
	if q.Shrunk == 0 {
		return 1
	}
	return q.Shrunk
}

// weigh turns the readings into a count and its chance.
func (a *Answer) weigh(all []reading) {
	r := all[0]
	a.Teeth, a.Chance = r.count, round(r.chance, 3)
	for _, o := range all[1:] {
		if o.chance >= 0.005 && len(a.Others) < 3 {
			a.Others = append(a.Others, Count{o.count, round(o.chance, 3)})
		}
	}
	a.Why = Why{Evidence: round(r.evidence, 1), Line: round(r.line[0], 2),
		Rest: round(math.Asin(min(r.rest, 1))/(2*math.Pi), 3), Seen: round(r.visible(), 2)}
	if len(a.Others) > 0 {
		a.Why.Next = a.Others[0]
	}
}

// visible is the share of the rim on which the pattern is at least a quarter as clear as
// at its clearest.
func (r *reading) visible() float64 {
	return 1 - float64(len(r.unseen()))/sectors
}

// unseen are the sectors on which it is not.
func (r *reading) unseen() []int {
	most := 0.0
	for _, v := range r.seen {
		most = max(most, v)
	}
	var out []int
	for k, v := range r.seen {
		if v < most/4 {
			out = append(out, k)
		}
	}
	return out
}

func round(v float64, digits int) float64 {
	p := math.Pow10(digits)
	return math.Round(v*p) / p
}
