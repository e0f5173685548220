package speedo

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"zorvel/core/say"
)

// Sample is a point of the plot.
type Sample struct {
	Seconds float64 `json:"s"`
	KMH     float64 `json:"kmh"`
	Meters  float64 `json:"m"`
	State   string  `json:"state"` // driving, paused, gap
}

// Dropped is a fix that was left out.
type Dropped struct {
	Seconds float64 `json:"s"`
	Why     string  `json:"why"`
}

// Track is a track that was read and cleaned.
type Track struct {
	Fixes      int       `json:"fixes"`
	Used       int       `json:"used"`
	Meters     float64   `json:"meters"`     // along the road, gaps straight
	GapMeters  float64   `json:"gap_meters"` // of them in gaps
	Moving     float64   `json:"moving_s"`
	Paused     float64   `json:"paused_s"`
	Gaps       int       `json:"gaps"`
	Dropped    []Dropped `json:"dropped"`
	DroppedAll int       `json:"dropped_count"`
	Samples    []Sample  `json:"samples"`
	Start      time.Time `json:"start"`
	Timed      bool      `json:"timed"`
	Text       string    `json:"text"`
	// Scatter is the standard deviation of the fixes, in meters along one
	// axis; Noise is what it leaves open of the length, in percent.
	Scatter float64 `json:"scatter_m"`
	Noise   float64 `json:"noise_percent"`

	steps []step
	late  int // fixes no later than the one before
}

// step is from one kept fix to the next.
type step struct {
	from, to float64 // s from the start
	meters   float64
	state    string
}

// ReadTrack reads a GPX text and cleans its track: fixes that can't be are
// left out, standing counts no distance, gaps are bridged straight and told.
func ReadTrack(text string) (*Track, error) {
	fixes, err := ParseGPX(strings.NewReader(text))
	if err != nil {
		return nil, err
	}
	if len(fixes) < 2 {
		return nil, errors.New("the file holds no track: at least two track points are needed")
	}
	t := clean(inOrder(fixes))
	if late := t.late; late*5 > t.Fixes {
		return nil, fmt.Errorf("%d of %d fixes are no later than the one before: are two recordings of the same time in one file? Save one drive", late, t.Fixes)
	}
	if t.Used < 2 {
		return nil, errors.New("no two fixes of the track belong together; is it a drive?")
	}
	return t, nil
}

// inOrder puts the segments in the order of their times; recorders write
// tracks in any order.
func inOrder(fixes []Fix) []Fix {
	for _, f := range fixes {
		if !f.HasTime {
			return fixes
		}
	}
	out := slices.Clone(fixes)
	first := map[int]time.Time{}
	for _, f := range out {
		if at, ok := first[f.Segment]; !ok || f.At.Before(at) {
			first[f.Segment] = f.At
		}
	}
	slices.SortStableFunc(out, func(a, b Fix) int {
		if a.Segment == b.Segment {
			return 0
		}
		return cmp.Or(first[a.Segment].Compare(first[b.Segment]), a.Segment-b.Segment)
	})
	return out
}

// astray reports whether the few fixes kept so far are the wrong ones: those
// that follow belong together, and none can be reached from them.
func astray(kept, rest []Fix) bool {
	n := min(len(rest), 6)
	if len(kept) > 10 || n < 3 {
		return false
	}
	last := kept[len(kept)-1]
	for i := range n {
		if reaches(last, rest[i]) || (i > 0 && !reaches(rest[i-1], rest[i])) {
			return false
		}
	}
	return true
}

func clean(fixes []Fix) *Track {
	t := &Track{Fixes: len(fixes), Timed: true, Dropped: []Dropped{}, Samples: []Sample{}}
	for _, f := range fixes {
		t.Timed = t.Timed && f.HasTime
	}
	if t.Timed {
		t.Start = fixes[0].At
	}
	since := func(f Fix) float64 {
		if !t.Timed {
			return 0
		}
		return f.At.Sub(t.Start).Seconds()
	}
	drop := func(f Fix, why string) {
		t.DroppedAll++
		if len(t.Dropped) < 100 {
			t.Dropped = append(t.Dropped, Dropped{say.Round(since(f), 1), why})
		}
	}
	kept := make([]Fix, 0, len(fixes))
	for i, f := range fixes {
		if f.HDOP > maxHDOP {
			drop(f, poorFix(f))
			continue
		}
		if math.Abs(f.Lat) < 1e-9 && math.Abs(f.Lon) < 1e-9 {
			drop(f, "no fix yet: 0, 0")
			continue
		}
		if len(kept) == 0 {
			kept = append(kept, f)
			if t.Timed {
				t.Start = f.At
			}
			continue
		}
		last := kept[len(kept)-1]
		d := Meters(last, f)
		if !t.Timed {
			if f.Segment == last.Segment && d > 5000 {
				drop(f, jumped(d))
				continue
			}
			kept = append(kept, f)
			continue
		}
		dt := f.At.Sub(last.At).Seconds()
		if dt <= 0 {
			t.late++
			drop(f, "no later than the fix before it")
			continue
		}
		if d/dt*3.6 > maxKMH && astray(kept, fixes[i:]) {
			for _, k := range kept {
				drop(k, "jump at the start")
			}
			kept, t.Start = append(kept[:0], f), f.At
			continue
		}
		if d/dt*3.6 > maxKMH {
			drop(f, tooFast(d, dt))
			continue
		}
		if i+1 < len(fixes) && aside(last, f, fixes[i+1]) {
			drop(f, "aside: there and back within seconds")
			continue
		}
		kept = append(kept, f)
	}
	t.Used = len(kept)
	t.walk(kept, since)
	t.words()
	return t
}

// aside is whether a single fix lies there and back at speeds that no vehicle
// takes.
func aside(last, f, next Fix) bool {
	dt, dt2 := f.At.Sub(last.At).Seconds(), next.At.Sub(f.At).Seconds()
	if !next.HasTime || dt2 <= 0 || dt >= 30 || dt2 >= 30 {
		return false
	}
	there, back, direct := Meters(last, f), Meters(f, next), Meters(last, next)
	v1, v2, v0 := there/dt, back/dt2, direct/(dt+dt2)
	return there+back > 2*direct+20 && v1 > 2*v0+5 && v2 > 2*v0+5 && (v1-v0)/dt > accelLimit/3
}

// reaches reports whether a road vehicle can have come from one fix to the
// next.
func reaches(a, b Fix) bool {
	dt := b.At.Sub(a.At).Seconds()
	return dt > 0 && Meters(a, b)/dt*3.6 <= maxKMH
}

// walk adds the way up, with pauses and gaps.
func (t *Track) walk(kept []Fix, since func(Fix) float64) {
	usual := 1.0
	if t.Timed {
		var steps []float64
		for i := 1; i < len(kept); i++ {
			steps = append(steps, kept[i].At.Sub(kept[i-1].At).Seconds())
		}
		if len(steps) > 0 {
			usual = sortFloats(steps)[len(steps)/2]
		}
	}
	limit := math.Max(gapAtLeast, gapFactor*usual)
	for i := 1; i < len(kept); i++ {
		a, b := kept[i-1], kept[i]
		s := step{from: since(a), to: since(b), meters: Meters(a, b), state: "driving"}
		dt := s.to - s.from
		switch {
		case t.Timed && dt > limit, a.Segment != b.Segment:
			s.state = "gap"
			if t.Timed && s.meters/math.Max(dt, 1)*3.6 < stillKMH {
				s.state = "paused"
			}
		case t.Timed && s.meters/dt*3.6 < stillKMH:
			s.state = "paused"
		}
		t.steps = append(t.steps, s)
	}
	if t.Timed {
		w := t.flatten(kept)
		t.Scatter = w.scatter(kept)
		t.settle(w)
		t.smooth(kept, w)
	}
	// Slow for a moment is driving; slow for a while is standing.
	for i := 0; i < len(t.steps); {
		k := i
		for k < len(t.steps) && t.steps[k].state == "paused" {
			k++
		}
		if k > i && t.steps[k-1].to-t.steps[i].from < stillFor {
			for j := i; j < k; j++ {
				t.steps[j].state = "driving"
			}
		}
		i = max(k, i+1)
	}
	for i := range t.steps {
		s := &t.steps[i]
		dt := s.to - s.from
		switch s.state {
		case "paused":
			t.Paused += dt
			s.meters = 0 // the fix wanders while the vehicle stands
		case "gap":
			t.Gaps++
			t.GapMeters += s.meters
			t.Meters += s.meters
		default:
			t.Moving += dt
			t.Meters += s.meters
		}
	}
	t.plot()
	t.Meters, t.GapMeters, t.Moving, t.Paused = say.Round(t.Meters, 3), say.Round(t.GapMeters, 3), say.Round(t.Moving, 2), say.Round(t.Paused, 2)
}

// plot thins the way to at most 600 samples of speed, keeping changes of state.
func (t *Track) plot() {
	if !t.Timed || len(t.steps) == 0 {
		return
	}
	total := t.steps[len(t.steps)-1].to - t.steps[0].from
	width := total / 600
	way := 0.0
	for i := 0; i < len(t.steps); {
		k := i
		m := 0.0
		for k < len(t.steps) && t.steps[k].state == t.steps[i].state && (k == i || t.steps[k].to-t.steps[i].from <= width) {
			m += t.steps[k].meters
			k++
		}
		way += m
		dt := t.steps[k-1].to - t.steps[i].from
		v := 0.0
		if dt > 0 {
			v = m / dt * 3.6
		}
		t.Samples = append(t.Samples, Sample{say.Round((t.steps[i].from+t.steps[k-1].to)/2, 1), say.Round(v, 2), say.Round(way, 1), t.steps[i].state})
		i = k
	}
}

// seconds reads a time of the track: seconds from its start, or a date and
// time.
func (t *Track) seconds(s string) (float64, error) {
	if !t.Timed {
		return 0, errors.New("the track carries no times, so speeds can't be compared; use the odometer")
	}
	end := t.steps[len(t.steps)-1].to
	v, err := strconv.ParseFloat(strings.TrimSpace(s), 64)
	if err != nil {
		at, ok := parseTime(strings.TrimSpace(s))
		if !ok {
			return 0, errors.New("seconds from the track's start, or a time such as 2031-05-04T09:12:30Z")
		}
		v = at.Sub(t.Start).Seconds()
	}
	if !(v >= 0 && v <= end) {
		return 0, fmt.Errorf("the track lasts from 0 to %s s", say.Trim(end, 0))
	}
	return v, nil
}

// speedAt is the speed around a moment, in km/h, and how much it changed
// there, in percent; false inside gaps and pauses.
func (t *Track) speedAt(sec, window float64) (float64, float64, bool) {
	lo, hi := sec-window, sec+window
	var m, s float64
	var vs []float64
	for _, x := range t.steps {
		if x.to <= lo || x.from >= hi {
			continue
		}
		if x.state != "driving" {
			if x.from <= sec && sec <= x.to {
				return 0, 0, false
			}
			continue
		}
		part := (math.Min(hi, x.to) - math.Max(lo, x.from)) / (x.to - x.from)
		m, s = m+x.meters*part, s+(x.to-x.from)*part
		vs = append(vs, x.meters/(x.to-x.from)*3.6)
	}
	if s < 2 || m <= 0 {
		return 0, 0, false
	}
	v := m / s * 3.6
	spread := 0.0
	for _, x := range vs {
		spread += (x - v) * (x - v)
	}
	spread = math.Sqrt(spread/float64(len(vs))) / math.Sqrt(float64(len(vs))) / v * 100
	return v, spread, true
}
