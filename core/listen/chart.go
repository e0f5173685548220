package listen

import (
	"math"
)

// Map is the order map: how far each order stands out of what is around it, in decibels,
// over time. Rows are moments, columns orders per wheel turn.
type Map struct {
	Top     float64   `json:"top"` // order of the right edge
	Seconds []float64 `json:"seconds"`
	Speed   []float64 `json:"kmh"`
	Rows    [][]int   `json:"rows"` // decibels over what is around, 0 to 40
}

const (
	mapColumns = 300
	mapRows    = 80
)

// chart draws the map at the fitted lag and scale.
func (w *work) chart() Map {
	m := Map{Seconds: []float64{}, Speed: []float64{}, Rows: [][]int{}}
	s := w.best.s
	if s == nil {
		return m
	}
	m.Top = w.mapTop()
	y, per := s.y, s.per
	n := len(s.abs) * 2
	for n > 256 && len(w.best.turns) > 0 && float64(n)/per > 5 {
		n /= 2 // short spectra: the map shows how orders change
	}
	total := w.best.turns[len(w.best.turns)-1]
	blocks := max(1, (len(y)-n)/(n/2)+1)
	every := (blocks + mapRows - 1) / mapRows
	k := 0
	average(y, n, per, func(at float64, power []float64) bool {
		if k++; (k-1)%every != 0 {
			return false
		}
		m.Rows = append(m.Rows, row(over(power), per/float64(n), m.Top))
		t := w.timeOf(at * total)
		m.Seconds = append(m.Seconds, round(t, 1))
		m.Speed = append(m.Speed, round(w.speedAt(t), 1))
		return false
	})
	return m
}

// mapTop is far enough to show the second line of what is known, at most 200.
func (w *work) mapTop() float64 {
	top := 100.0
	for _, s := range w.known {
		top = max(top, s.PerWheel*1.2)
	}
	return min(top, 200, w.best.s.step*float64(len(w.best.s.abs)))
}

func row(power []float64, step, top float64) []int {
	out := make([]int, mapColumns)
	for c := range out {
		from, to := int(top*float64(c)/mapColumns/step), int(math.Ceil(top*float64(c+1)/mapColumns/step))
		most := 0.0
		for k := max(from, 1); k < min(max(to, from+1), len(power)); k++ {
			most = max(most, power[k])
		}
		out[c] = int(min(max(10*math.Log10(most+1e-9), 0), 40))
	}
	return out
}

// timeOf is the second at which the wheel had turned so far.
func (w *work) timeOf(turns float64) float64 {
	lo, hi := 0, len(w.best.turns)-1
	for lo < hi {
		mid := (lo + hi) / 2
		if w.best.turns[mid] < turns {
			lo = mid + 1
		} else {
			hi = mid
		}
	}
	return float64(lo) / w.q.Rate
}

func (w *work) speedAt(t float64) float64 {
	k := min(max(int((t+w.best.lag)/step), 0), len(w.curve)-1)
	return w.curve[k] * 3.6 * w.q.Vehicle.Circumference
}

// Load is how loud the loudest source is while the speed rises and while it falls.
type Load struct {
	Drive float64 `json:"drive_db"`
	Coast float64 `json:"coast_db"`
	On    string  `json:"on"`
}

// When it is heard.
const (
	OnDrive = "drive"
	OnCoast = "coast"
	OnBoth  = "both"
)

const (
	slope     = 0.25 // km/h a second, from which on it drives or coasts
	differs   = 6    // decibels between drive and coast that count as only one
	leastLoad = 0.2  // of the recording, each
)

// load compares drive and coast, where a recording has both; in neutral there is no drive.
func (w *work) load(a *Answer) *Load {
	s := w.best.s
	if s == nil || len(a.Sources) == 0 || a.State != Told || a.Sources[0].Kind == FixedTone || w.q.Vehicle.Neutral {
		return nil
	}
	y, per := s.y, s.per
	total := w.best.turns[len(w.best.turns)-1]
	n := len(s.abs) * 2
	for n > 256 && float64(n)/per > 7 {
		n /= 2
	}
	var level [2]float64
	for i, sign := range []float64{1, -1} {
		kept, all := 0, 0
		part := average(y, n, per, func(at float64, _ []float64) bool {
			all++
			t := w.timeOf(at * total)
			if sign*(w.speedAt(t+0.7)-w.speedAt(t-0.7))/1.4 < slope {
				return false
			}
			kept++
			return true
		})
		if part == nil || float64(kept) < leastLoad*float64(all) || kept < 3 {
			return nil
		}
		src := a.Sources[0].Source
		src.harmonics = 3
		level[i] = round(part.hear(src, w.best.scale, nil).level, 1)
	}
	out := &Load{Drive: level[0], Coast: level[1], On: OnBoth}
	switch {
	case out.Drive-out.Coast > differs:
		out.On = OnDrive
	case out.Coast-out.Drive > differs:
		out.On = OnCoast
	}
	return out
}
