package film

import (
	"fmt"
	"math"
	"slices"

	"zorvel/core/say"
)

// tracker follows one disc.
type tracker struct {
	watch   Watch
	ground  ground
	begin   []float64 // the circle when the mark was seen first
	state   State
	times   []float64 // of pictures in which the mark was seen
	degrees []float64

	usual  float64 // chalk that is seen
	last   float64 // marks' distances turned so far, where it was seen last
	speed  float64 // distances a picture
	gap    int     // pictures since it was seen
	seen   int
	hidden int
	total  float64
	moved  float64 // distances, to where all turning was added up
	angle  float64
}

func newTracker(w Watch) *tracker { return &tracker{watch: w, state: NoMark} }

// A mark is followed where it moves less than this share of the way to the next; and where
// its speed doesn't change more than so much from picture to picture.
const (
	mostMove   = 0.38
	mostChange = 0.22
)

// A picture shows the mark where so much of the usual chalk is seen, standing together.
const (
	leastChalk = 0.35
	leastOrder = 0.6
	weakChalk  = 0.06
	weakOrder  = 0.85
)

// see looks at a picture.
func (t *tracker) see(p Picture, at float64) {
	if t.state == TooFast || t.state == Lost {
		return
	}
	m := t.watch.Marks
	circle := profile(p, t.watch.Box)
	at0, amount, order := phase(t.ground.chalk(circle, m), m)
	if !t.shows(at0, amount, order) {
		t.missed()
		return
	}
	if t.seen == 0 {
		t.state, t.last, t.usual = Followed, at0, amount
		t.moved, t.begin = at0, circle
	}
	t.usual += (amount - t.usual) * 0.1
	pictures := float64(t.gap + 1)
	aim := t.last + t.speed*pictures
	now := at0 + math.Round(aim-at0)
	move := (now - t.last) / pictures
	if t.seen > 0 {
		if math.Abs(move) > mostMove || math.Abs(move-t.speed)*math.Sqrt(pictures) > mostChange {
			t.lose()
			return
		}
		t.speed += (move - t.speed) * 0.6
	}
	t.last, t.gap = now, 0
	t.seen++
	t.angle = at0 / float64(m)
	t.add(now)
	t.times = append(t.times, at)
	t.degrees = append(t.degrees, now/float64(m)*360)
}

// quietDegrees is what a mark trembles, in its distances: no turning.
const quietDegrees = 3.0

// shows reports whether a picture shows the mark: its chalk as usual, or in a shadow weaker
// but just where it is awaited.
func (t *tracker) shows(at, amount, order float64) bool {
	switch {
	case t.seen == 0:
		return amount >= 1 && order >= leastOrder
	case amount >= leastChalk*t.usual:
		return order >= leastOrder
	}
	off := math.Abs(math.Remainder(at-t.last-t.speed*float64(t.gap+1), 1))
	return amount >= weakChalk*t.usual && order >= weakOrder && off < 0.1
}

// add sums up all turning, both ways.
func (t *tracker) add(now float64) {
	if d := math.Abs(now - t.moved); d*360/float64(t.watch.Marks) > quietDegrees {
		t.total += d
		t.moved = now
	}
}

// missed is a picture without the mark: a hand before it, or the mark is gone. It is
// followed across as long as its speed says which mark comes back.
func (t *tracker) missed() {
	if t.seen == 0 {
		return
	}
	t.gap++
	t.hidden++
	if float64(t.gap)*(math.Abs(t.speed)*0.25+0.008) > 0.35 {
		t.lose()
	}
}

// A mark that went out of sight at such a speed was smeared, not hidden.
const smears = 0.08

func (t *tracker) lose() {
	t.state = Lost
	if t.gap == 0 || math.Abs(t.speed) > smears {
		t.state = TooFast
	}
}

// disc is what was seen so far.
func (t *tracker) disc() Disc {
	d := Disc{Shaft: t.watch.Shaft, State: t.state, Hidden: t.hidden, Angle: t.angle - math.Floor(t.angle)}
	if t.state == Followed {
		m := float64(t.watch.Marks)
		d.Turns = (t.last - t.first()) / m
		d.Total = math.Max(t.total/m, math.Abs(d.Turns))
	}
	d.Sentence = t.words(d)
	return d
}

// first is where it was first seen, in marks' distances. A shine that lay over the mark
// then is known once the mark has gone round: so the first picture is looked at again.
func (t *tracker) first() float64 {
	m := t.watch.Marks
	first := t.degrees[0] / 360 * float64(m)
	if t.total < 1.5 {
		return first
	}
	known := ground{light: slices.Clone(t.ground.light)}
	again, amount, order := phase(known.chalk(t.begin, m), m)
	if d := math.Remainder(again-first, 1); amount > 0 && order >= leastOrder && math.Abs(d) < 0.2 {
		first += d
	}
	return first
}

func (t *tracker) words(d Disc) string {
	switch d.State {
	case NoMark:
		return "No chalk mark is seen in this box. Draw one from the rim inward, and draw the box over the whole disc."
	case Lost:
		return "The mark went out of sight while it turned, so the count can't go on. Clear the view and start over."
	case TooFast:
		return fmt.Sprintf("Too fast for this camera: from picture to picture the mark moves about half %s. "+
			"Turn slower, or use sensors.", t.distance())
	}
	s := say.Trim(d.Turns, 2) + " turns"
	if d.Total-math.Abs(d.Turns) > 0.05 {
		s += ", " + say.Trim(d.Total, 2) + " both ways"
	}
	if d.Hidden > 0 {
		s += fmt.Sprintf("; the mark was hidden in %d pictures and followed across", d.Hidden)
	}
	return s + "."
}

func (t *tracker) distance() string {
	if t.watch.Marks == 1 {
		return "a turn"
	}
	return "the way to the next mark"
}
