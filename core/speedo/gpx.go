package speedo

import (
	"cmp"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"zorvel/core/say"
)

// Limits of what is taken for a fix of a road vehicle.
const (
	maxKMH      = 250.0 // faster than this between two fixes is a jump
	maxHDOP     = 6.0   // worse dilution of precision is left out
	stillKMH    = 2.0   // slower is standing
	stillFor    = 5.0   // s, before standing counts as a pause
	stillOver   = 2.5   // s on either side, over which a speed is told from the fixes' scatter
	smoothOver  = 4.0   // s on either side, the longest way over which fixes are smoothed
	lengthBias  = 2e-4  // part of the length that scatter may add after smoothing
	gapFactor   = 5.0   // times the usual step makes a gap
	gapAtLeast  = 8.0   // s
	accelLimit  = 12.0  // m/s², more than tires can hold
	maxTrackPts = 200_000
)

// Fix is one fix of a track.
type Fix struct {
	Lat, Lon float64
	At       time.Time
	HasTime  bool
	HDOP     float64 // 0 where it isn't given
	Segment  int
}

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

// ParseGPX reads the fixes of all tracks of a GPX file, version 1.0 or 1.1,
// whatever its name space prefix and extensions; routes and way points are
// left alone.
func ParseGPX(r io.Reader) ([]Fix, error) {
	dec := xml.NewDecoder(r)
	dec.CharsetReader = func(label string, in io.Reader) (io.Reader, error) {
		switch strings.ToLower(label) {
		case "utf-8", "us-ascii", "ascii", "iso-8859-1", "latin1", "windows-1252":
			return in, nil // numbers and times are ASCII in all of them
		}
		return nil, fmt.Errorf("the encoding %q can't be read; save the file as UTF-8", label)
	}
	var out []Fix
	seen, segment := false, -1
	var cur *Fix
	var path []string
	for {
		tok, err := dec.Token()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			var syn *xml.SyntaxError
			if errors.As(err, &syn) {
				return nil, fmt.Errorf("this is no GPX file: line %d: %s", syn.Line, syn.Msg)
			}
			return nil, err
		}
		switch t := tok.(type) {
		case xml.StartElement:
			name := t.Name.Local
			path = append(path, name)
			if len(path) > 100 {
				return nil, errors.New("this is no GPX file: it nests too deep")
			}
			switch {
			case len(path) == 1 && name != "gpx":
				return nil, fmt.Errorf("this is no GPX file: it begins with <%s>", clip(name))
			case len(path) == 1:
				seen = true
			case name == "trkseg" && under(path, "trk"):
				segment++
			case name == "trkpt" && under(path, "trkseg"):
				f := Fix{Segment: segment, Lat: math.NaN(), Lon: math.NaN()}
				for _, a := range t.Attr {
					v, err := strconv.ParseFloat(strings.TrimSpace(a.Value), 64)
					switch a.Name.Local {
					case "lat":
						if err == nil {
							f.Lat = v
						}
					case "lon":
						if err == nil {
							f.Lon = v
						}
					}
				}
				if !(math.Abs(f.Lat) <= 90 && math.Abs(f.Lon) <= 180) {
					line, _ := dec.InputPos()
					return nil, fmt.Errorf("line %d: a track point needs lat from −90 to 90 and lon from −180 to 180", line)
				}
				if len(out) >= maxTrackPts {
					return nil, fmt.Errorf("at most %d track points", maxTrackPts)
				}
				out = append(out, f)
				cur = &out[len(out)-1]
			}
		case xml.EndElement:
			if t.Name.Local == "trkpt" {
				cur = nil
			}
			if len(path) > 0 {
				path = path[:len(path)-1]
			}
		case xml.CharData:
			if cur == nil || len(path) < 2 || path[len(path)-2] != "trkpt" {
				continue
			}
			text := strings.TrimSpace(string(t))
			switch path[len(path)-1] {
			case "time":
				if at, ok := parseTime(text); ok {
					cur.At, cur.HasTime = at, true
				}
			case "hdop":
				if v, err := strconv.ParseFloat(text, 64); err == nil && v > 0 {
					cur.HDOP = v
				}
			}
		}
	}
	if !seen {
		return nil, errors.New("this is no GPX file: it is empty")
	}
	return out, nil
}

func under(path []string, parent string) bool {
	return len(path) >= 2 && path[len(path)-2] == parent
}

func clip(s string) string {
	if len(s) > 40 {
		return s[:40] + "…"
	}
	return s
}

// parseTime reads an XML date and time; without a zone it is UTC.
func parseTime(s string) (time.Time, bool) {
	for _, layout := range []string{time.RFC3339Nano, "2006-01-02T15:04:05.999999999", "2006-01-02T15:04:05Z0700"} {
		if t, err := time.Parse(layout, s); err == nil {
			return t.UTC(), true
		}
	}
	return time.Time{}, false
}

// Meters is the distance between two fixes along the WGS 84 ellipsoid, by the
// radii of curvature at their mean latitude (exact to a few parts in a million
// over some kilometers; Torge, Geodesy).
func Meters(a, b Fix) float64 {
	const semiMajor, e2 = 6378137.0, 6.69437999014e-3
	rad := math.Pi / 180
	lat := (a.Lat + b.Lat) / 2 * rad
	dLon := math.Mod(b.Lon-a.Lon+540, 360) - 180
	w := 1 - e2*math.Sin(lat)*math.Sin(lat)
	n := semiMajor / math.Sqrt(w)
	m := semiMajor * (1 - e2) / (w * math.Sqrt(w))
	return math.Hypot(m*(b.Lat-a.Lat)*rad, n*math.Cos(lat)*dLon*rad)
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
			drop(f, fmt.Sprintf("poor fix: dilution of precision %s", say.Trim(f.HDOP, 1)))
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
				drop(f, fmt.Sprintf("jump of %s km", say.Trim(d/1000, 1)))
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
			drop(f, fmt.Sprintf("jump: %s km/h from the fix before", say.Trim(d/dt*3.6, 0)))
			continue
		}
		// A single fix aside: there and back at speeds that no vehicle takes.
		if i+1 < len(fixes) {
			next := fixes[i+1]
			dt2 := next.At.Sub(f.At).Seconds()
			if next.HasTime && dt2 > 0 && dt < 30 && dt2 < 30 {
				direct, via := Meters(last, next), d+Meters(f, next)
				v1, v2, v0 := d/dt, Meters(f, next)/dt2, direct/(dt+dt2)
				if via > 2*direct+20 && v1 > 2*v0+5 && v2 > 2*v0+5 && (v1-v0)/dt > accelLimit/3 {
					drop(f, "aside: there and back within seconds")
					continue
				}
			}
		}
		kept = append(kept, f)
	}
	t.Used = len(kept)
	t.walk(kept, since)
	t.words()
	return t
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

// settle finds how much the fixes scatter, and standing that the scatter hides:
// the speed that a straight line through the fixes of some seconds gives.
func (t *Track) settle(w flat) {
	still := make([]bool, len(t.steps))
	for i := range t.steps {
		if t.steps[i].state == "gap" {
			continue
		}
		mid := (t.steps[i].from + t.steps[i].to) / 2
		a, b := t.window(i, func(k int) bool {
			return math.Abs(t.steps[k].from-mid) <= stillOver && math.Abs(t.steps[k].to-mid) <= stillOver
		})
		n := b - a + 2 // fixes
		dt := t.steps[b].to - t.steps[a].from
		if n < 4 || dt < stillOver {
			continue // too few fixes around it tell nothing
		}
		v := w.line(a, b+1)
		// The slope of a line through n fixes over dt scatters by √12·σ ÷ (dt·√n).
		own := math.Sqrt(12/float64(n)) * t.Scatter / dt
		still[i] = v*3.6 < math.Max(stillKMH, 3*own*3.6)
	}
	for i, is := range still {
		if is {
			t.steps[i].state = "paused"
		}
	}
	t.nowhere(w)
}

// nowhere finds moments of seeming motion within standing that lead nowhere:
// the vehicle stands at the same place before and after.
func (t *Track) nowhere(w flat) {
	place := func(a, b int) (x, y float64) { // mean of the fixes a..b
		for k := a; k <= b; k++ {
			x, y = x+w.x[k], y+w.y[k]
		}
		n := float64(b - a + 1)
		return x / n, y / n
	}
	run := func(i int, state string) int {
		for i < len(t.steps) && t.steps[i].state == state {
			i++
		}
		return i
	}
	for i := 0; i < len(t.steps); {
		if t.steps[i].state != "paused" {
			i++
			continue
		}
		k := run(i, "paused")
		m := run(k, "driving")
		if m == k || m == len(t.steps) || t.steps[m].state != "paused" || t.steps[m-1].to-t.steps[k].from > 2*smoothOver {
			i = k
			continue
		}
		end := run(m, "paused")
		x1, y1 := place(max(i, k-20), k)
		x2, y2 := place(m, min(end, m+20))
		if math.Hypot(x2-x1, y2-y1) < math.Max(2, 3*t.Scatter) {
			for j := k; j < m; j++ {
				t.steps[j].state = "paused"
			}
			i = max(i, m-20) // what was joined may join with the next
			continue
		}
		i = k
	}
}

// window is the range of steps around i, without gaps, that a condition takes.
func (t *Track) window(i int, in func(int) bool) (a, b int) {
	a, b = i, i
	const most = 150 // steps on either side; a higher rate of fixes needs no more
	for a > 0 && i-a < most && t.steps[a-1].state != "gap" && in(a-1) {
		a--
	}
	for b+1 < len(t.steps) && b-i < most && t.steps[b+1].state != "gap" && in(b+1) {
		b++
	}
	return a, b
}

// flat is the way in meters north and east, laid out from fix to fix, and its
// times; differences over some hundred fixes are true on any track.
type flat struct{ x, y, s []float64 }

func (t *Track) flatten(kept []Fix) flat {
	w := flat{make([]float64, len(kept)), make([]float64, len(kept)), make([]float64, len(kept))}
	for i, f := range kept {
		w.s[i] = f.At.Sub(t.Start).Seconds()
		if i == 0 {
			continue
		}
		o := kept[i-1]
		north := Meters(o, Fix{Lat: f.Lat, Lon: o.Lon})
		east := Meters(Fix{Lat: f.Lat, Lon: o.Lon}, f)
		if f.Lat < o.Lat {
			north = -north
		}
		if math.Mod(f.Lon-o.Lon+540, 360)-180 < 0 {
			east = -east
		}
		w.x[i], w.y[i] = w.x[i-1]+north, w.y[i-1]+east
	}
	return w
}

// line is the speed in m/s of a straight line through the fixes a..b, by least
// squares over time.
func (w flat) line(a, b int) float64 {
	var n, st, sx, sy, stt, stx, sty float64
	for k := a; k <= b; k++ {
		x, y, s := w.x[k]-w.x[a], w.y[k]-w.y[a], w.s[k]-w.s[a]
		n, st, sx, sy, stt, stx, sty = n+1, st+s, sx+x, sy+y, stt+s*s, stx+s*x, sty+s*y
	}
	d := n*stt - st*st
	if d <= 0 {
		return 0
	}
	return math.Hypot(n*stx-st*sx, n*sty-st*sy) / d
}

// scatter is the standard deviation of the fixes along one axis, from third
// differences: motion with steady acceleration has none, white scatter of σ has
// √20·σ. The median leaves turns and braking out.
func (w flat) scatter(kept []Fix) float64 {
	var d []float64
	for i := 3; i < len(kept); i++ {
		dt := w.s[i] - w.s[i-1]
		if kept[i].Segment != kept[i-3].Segment || dt <= 0 || math.Abs(w.s[i]-w.s[i-3]-3*dt) > 0.2*dt {
			continue
		}
		d = append(d, math.Abs(w.x[i]-3*w.x[i-1]+3*w.x[i-2]-w.x[i-3]), math.Abs(w.y[i]-3*w.y[i-1]+3*w.y[i-2]-w.y[i-3]))
	}
	if len(d) < 20 {
		return 0
	}
	return sortFloats(d)[len(d)/2] / 0.6745 / math.Sqrt(20)
}

// smooth takes the scatter out of the length of the driven steps: the fixes are
// replaced by quadratics through those around them, over as many as it takes
// until scatter adds no more than lengthBias. With n fixes around, a step of L
// meters is lengthened by 12·σ² ÷ (n³·2L²) of itself.
func (t *Track) smooth(kept []Fix, w flat) {
	if t.Scatter == 0 {
		return
	}
	at := make([][2]float64, len(kept))
	half := make([]int, len(kept))
	gaps := make([]int, len(kept)) // before each fix
	for i, x := range t.steps {
		gaps[i+1] = gaps[i]
		if x.state == "gap" {
			gaps[i+1]++
		}
	}
	for i := range kept {
		s := min(max(i-1, 0), len(t.steps)-1)
		mid := w.s[i]
		a, b := t.window(s, func(k int) bool {
			return math.Abs(t.steps[k].from-mid) <= stillOver && math.Abs(t.steps[k].to-mid) <= stillOver
		})
		dt := t.steps[b].to - t.steps[a].from
		v := w.line(a, b+1)
		step := v * dt / float64(b-a+1)
		n := math.Inf(1)
		if step > 0 {
			n = math.Cbrt(6 * t.Scatter * t.Scatter / (step * step * lengthBias))
		}
		h := int(math.Min(math.Ceil((n-1)/2), 200))
		// Neither into a gap nor over more seconds than a bend takes.
		for h > 1 && (i-h < 0 || i+h >= len(kept) || w.s[i+h]-w.s[i-h] > 2*smoothOver || kept[i-h].Segment != kept[i+h].Segment || gaps[i-h] != gaps[i+h]) {
			h--
		}
		for h > 1 && t.bend(w, i, h) > maxBend {
			h--
		}
		if h > 1 && i-h >= 0 && i+h < len(kept) && n > 3 {
			half[i] = h
			at[i] = w.quadratic(i, h)
		}
	}
	var length, bias float64
	for i := range t.steps {
		s := &t.steps[i]
		if s.state != "driving" || s.meters == 0 {
			continue
		}
		x, y := w.x[i+1]-w.x[i], w.y[i+1]-w.y[i]
		m := math.Hypot(x+at[i+1][0]-at[i][0], y+at[i+1][1]-at[i][1])
		n := float64(2*min(half[i], half[i+1]) + 1)
		k := 2 * t.Scatter * t.Scatter // both ends, each by itself
		if n > 1 {
			k = 12 * t.Scatter * t.Scatter / (n * n * n)
		}
		length += m
		if h := min(half[i], half[i+1]); h > 1 { // what the quadratic cuts off a bend
			bias += m * math.Pow(math.Min(t.bend(w, i, h), 1.5), 4) / 280
		}
		bias += math.Min(k/(2*math.Max(m, 0.1)), m)
		s.meters = m
	}
	if length > 0 {
		t.Noise = say.Round(bias/length*100, 3)
	}
	t.Scatter = say.Round(t.Scatter, 3)
}

// maxBend is the greatest change of direction, in radians, from the first to
// the second half of what is smoothed over. A quadratic over a bend of radius r
// that turns by θ in each half lies θ⁴/280·r inside it.
const maxBend = 0.9

// bend is the angle between the ways from fix i−h to i and from i to i+h; ways
// that are lost in the scatter have none.
func (t *Track) bend(w flat, i, h int) float64 {
	k := min(i+h, len(w.x)-1)
	x1, y1 := w.x[i]-w.x[i-h], w.y[i]-w.y[i-h]
	x2, y2 := w.x[k]-w.x[i], w.y[k]-w.y[i]
	if math.Min(math.Hypot(x1, y1), math.Hypot(x2, y2)) < 5*t.Scatter {
		return 0
	}
	return math.Abs(math.Atan2(x1*y2-y1*x2, x1*x2+y1*y2))
}

// quadratic is how far the least-squares quadratic through the fixes i−h..i+h
// lies from fix i, at its time, in meters north and east.
func (w flat) quadratic(i, h int) [2]float64 {
	var s0, s1, s2, s3, s4 float64
	var bx, by [3]float64
	for k := i - h; k <= i+h; k++ {
		x, y, u := w.x[k]-w.x[i], w.y[k]-w.y[i], w.s[k]-w.s[i]
		s0, s1, s2, s3, s4 = s0+1, s1+u, s2+u*u, s3+u*u*u, s4+u*u*u*u
		bx[0], bx[1], bx[2] = bx[0]+x, bx[1]+u*x, bx[2]+u*u*x
		by[0], by[1], by[2] = by[0]+y, by[1]+u*y, by[2]+u*u*y
	}
	// Cramer's rule for the constant term.
	det := s0*(s2*s4-s3*s3) - s1*(s1*s4-s3*s2) + s2*(s1*s3-s2*s2)
	if det == 0 {
		return [2]float64{}
	}
	con := func(b [3]float64) float64 {
		return (b[0]*(s2*s4-s3*s3) - s1*(b[1]*s4-s3*b[2]) + s2*(b[1]*s3-s2*b[2])) / det
	}
	return [2]float64{con(bx), con(by)}
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

func (t *Track) words() {
	t.Text = fmt.Sprintf("%d of %d fixes used: %s km", t.Used, t.Fixes, say.Trim(t.Meters/1000, 3))
	if t.Timed {
		t.Text += fmt.Sprintf(" in %s min of driving", say.Trim(t.Moving/60, 1))
	} else {
		t.Text += "; the points carry no times, so pauses can't be told"
	}
	if t.Paused > 0 {
		t.Text += fmt.Sprintf(", %s min standing", say.Trim(t.Paused/60, 1))
	}
	if t.Gaps > 0 {
		gaps := "gaps"
		if t.Gaps == 1 {
			gaps = "gap"
		}
		t.Text += fmt.Sprintf(", %d %s with %s m taken straight", t.Gaps, gaps, say.Trim(t.GapMeters, 0))
	}
	t.Text += "."
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
