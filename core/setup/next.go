package setup

import (
	"cmp"
	"math"
	"slices"
	"strings"

	"zorvel/core/say"
	"zorvel/core/shim"
)

const (
	// mostMove is the greatest move that is proposed at once, mm.
	mostMove = 0.5
	// sumTol is how far the carrier's shims may be off their sum together, mm.
	sumTol = 0.01
	// depthTol is how near a depth stack has to come, mm.
	depthTol = 0.02
	// mostTries bounds how many places of the ring are tried against the box.
	mostTries = 40
)

// Change is one stack before and after.
type Change struct {
	Place  string    `json:"place"` // pinion, left or right
	FromMM float64   `json:"from_mm"`
	ToMM   float64   `json:"to_mm"`
	Pieces []float64 `json:"pieces_mm"` // empty where no box was given
	Text   string    `json:"text"`
}

// Expect is a prediction: two standard deviations about it.
type Expect struct {
	Value  float64 `json:"value"`
	Spread float64 `json:"spread"`
}

// Move is the next assembly.
type Move struct {
	Changes    []Change `json:"changes"`
	PinionMM   float64  `json:"pinion_mm"` // inward, toward the ring's axis
	RingMM     float64  `json:"ring_mm"`   // away from the pinion
	Short      string   `json:"short,omitempty"`
	BacklashMM *Expect  `json:"backlash_mm,omitempty"`
	Height     *Expect  `json:"height,omitempty"`
	Length     *Expect  `json:"length,omitempty"`
	Head       string   `json:"head"` // what to move, in a few words
	Text       string   `json:"text"`
	Preload    []string `json:"preload"` // what to do about the preload
	// The box has nothing nearer for the pinion.
	depthShort string
}

// aim is where pinion and ring should go, before the box is asked.
type aim struct {
	dy       float64 // pinion inward
	lash     *float64
	low, hi  float64 // the backlash that is acceptable
	needs    bool    // the ring has to move
	capped   bool
	goodEdge string // a pattern that the band does not let the ring cure
}

// aimAt decides depth first; then the backlash, with what the depth does to it.
func (q *Axle) aimAt(h house, t read, band *Band, depthOff *float64) aim {
	var a aim
	switch {
	case t.height != nil && math.Abs(*t.height) > heightBand:
		a.dy = shrunk(h.height.At(h.heightRow(t.y)), h.height.Mean(1), h.height.Sigma(1))
	case t.height == nil && depthOff != nil && math.Abs(*depthOff) > 2*q.RepeatMM:
		a.dy = *depthOff
	}
	if math.Abs(a.dy) > mostMove {
		a.dy, a.capped = math.Copysign(mostMove, a.dy), true
	}
	if band == nil || t.lash == nil {
		return a
	}
	half := math.Min((t.lash.GreatestMM-t.lash.LeastMM)/2, (band.High-band.Low)/2.5)
	a.low, a.hi = band.Low+half, band.High-half
	want := (band.Low + band.High) / 2
	in := t.lash.LeastMM >= band.Low && t.lash.GreatestMM <= band.High
	// Where the ring moves anyway, it may lean toward a pattern at mid length, by
	// a quarter of the band at most; in its band it stays.
	if t.length != nil && math.Abs(*t.length) > lengthBand {
		lean := math.Min((band.High-band.Low)/4, math.Abs(*t.length)*h.lash.Mean(1)/h.length.Mean(1))
		want -= math.Copysign(lean, *t.length)
		want = math.Min(math.Max(want, a.low), a.hi)
		if in && a.dy == 0 {
			a.goodEdge = towardEdge(t)
		}
	}
	a.lash, a.needs = &want, !in || a.dy != 0
	return a
}

// next finds the move: what the aim asks for, in pieces that are there.
func (q *Axle) next(h house, t read, a aim, box []shim.Shim) (*Move, error) {
	m := &Move{Changes: []Change{}, Preload: []string{}}
	pool := slices.Clone(box)
	if len(box) == 0 && math.Abs(a.dy) < 0.005 {
		a.dy = 0
	}
	after := t
	if a.dy != 0 {
		want := math.Max(0, t.pinion.MM+a.dy*q.inward())
		if short := math.Abs(t.pinion.MM + a.dy*q.inward() - want); short > q.RepeatMM/2 {
			m.depthShort = q.depthShort(a, t, short)
		}
		c, used, err := q.stack("pinion", t.pinion, want, pool, box)
		if err != nil {
			return nil, err
		}
		if c == nil {
			m.depthShort = strings.TrimSpace(m.depthShort + " " +
				q.leavePinion(want, t))
		} else {
			m.Changes = append(m.Changes, *c)
			pool = used
			after.y += (c.ToMM - t.pinion.MM) * q.inward()
		}
	}
	m.PinionMM = say.Round(after.y-t.y, 4)
	if a.lash != nil && a.needs {
		q.carrier(m, h, t, &after, a, pool, len(box) > 0)
	}
	m.RingMM = say.Round(after.x-t.x, 4)
	m.foretell(q, h, t, after)
	if q.firstLook() {
		m.Changes = []Change{}
	}
	return m, nil
}

// stack chooses the pinion's pieces; nil where the box has nothing better.
func (q *Axle) stack(place string, from Pile, want float64, pool, box []shim.Shim) (*Change, []shim.Shim, error) {
	if len(box) == 0 {
		to := say.Round(want, 2)
		if to == from.MM {
			return nil, pool, nil
		}
		c := q.change(place, from.MM, to, nil)
		return &c, pool, nil
	}
	all := shim.With(pool, from.Pieces...)
	list, err := shim.Choose(all, []shim.Target{{WantMM: want, TolMM: depthTol}}, q.Most)
	if err != nil {
		return nil, nil, err
	}
	s := list[0]
	if math.Abs(s.TotalMM-want) >= math.Abs(from.MM-want)-1e-9 {
		return nil, pool, nil
	}
	c := q.change(place, from.MM, s.TotalMM, s.Pieces)
	return &c, shim.Without(all, s.Pieces), nil
}

func (q *Axle) change(place string, from, to float64, pieces []float64) Change {
	c := Change{Place: place, FromMM: from, ToMM: to, Pieces: pieces}
	if c.Pieces == nil {
		c.Pieces = []float64{}
	}
	c.Text = q.placeChange(place, from, to)
	if len(pieces) > 1 || len(pieces) == 1 && pieces[0] != to {
		words := make([]string, len(pieces))
		for i, p := range pieces {
			words[i] = q.n(p)
		}
		c.Text += " (" + strings.Join(words, " + ") + ")"
	}
	return c
}

// carrier moves shims between the sides so that the sum stays, to where the
// backlash comes nearest to what is wanted.
func (q *Axle) carrier(m *Move, h house, t read, after *read, a aim, pool []shim.Shim, boxed bool) {
	lash := h.lash.At(h.lashRow(t.x, after.y))
	slope, sigma := h.lash.Mean(1), h.lash.Sigma(1)
	ideal := shrunk(*a.lash-lash, slope, sigma)
	if math.Abs(ideal) > mostMove {
		ideal = math.Copysign(mostMove, ideal)
	}
	// Never more than one side holds.
	room := t.left.MM
	if (ideal > 0) != (q.away() > 0) {
		room = t.right.MM
	}
	if over := math.Abs(ideal) - room; over > q.RepeatMM {
		m.Short = strings.TrimSpace(m.Short + " " + q.ringShort(ideal, room, over))
	}
	ideal = math.Copysign(math.Min(math.Abs(ideal), room), ideal)
	at := func(dx float64) (left, right float64) { return t.left.MM - q.away()*dx, t.right.MM + q.away()*dx }
	if !boxed {
		dx := say.Round(ideal, 2)
		if dx == 0 {
			return
		}
		l, r := at(dx)
		q.put(m, t, after, say.Round(l, 4), say.Round(r, 4), nil, nil)
		return
	}
	all := shim.With(pool, slices.Concat(t.left.Pieces, t.right.Pieces)...)
	for _, dx := range tries(ideal) {
		if math.Abs(dx) > room+1e-9 {
			continue
		}
		// Only what is nearer than staying put.
		if math.Abs(dx-ideal) >= math.Abs(ideal)-0.002 {
			break
		}
		l, r := at(dx)
		if list, ok := shim.Fit(all, []shim.Target{{WantMM: l, TolMM: sumTol / 2}, {WantMM: r, TolMM: sumTol / 2}}, q.Most); ok {
			q.put(m, t, after, list[0].TotalMM, list[1].TotalMM, list[0].Pieces, list[1].Pieces)
			return
		}
	}
	l, r := at(ideal)
	if slope*math.Abs(ideal) >= q.RepeatMM {
		m.Short = strings.TrimSpace(m.Short +
			q.noPieces(ideal, l, r))
	}
}

// tries lists moves of the ring around the ideal one, nearest first.
func tries(ideal float64) []float64 {
	out := []float64{}
	base := math.Round(ideal*100) / 100
	for k := range mostTries {
		d := float64((k+1)/2) / 100
		if k%2 == 1 {
			d = -d
		}
		out = append(out, base+d)
	}
	slices.SortStableFunc(out, func(a, b float64) int { return cmp.Compare(math.Abs(a-ideal), math.Abs(b-ideal)) })
	return out
}

func away(dx float64) string {
	if dx > 0 {
		return "away from the pinion"
	}
	return "toward the pinion"
}

func (q *Axle) put(m *Move, t read, after *read, left, right float64, lp, rp []float64) {
	m.Changes = append(m.Changes, q.change("left", t.left.MM, left, lp), q.change("right", t.right.MM, right, rp))
	after.x = q.away() * (right - left) / 2
}
