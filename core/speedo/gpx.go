package speedo

import (
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"math"
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
	wanderKMH   = 8.0   // a standing vehicle's fix wanders about no faster
	wanderFor   = 4.0   // s on either side, over which wandering leads nowhere
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

	steps []step
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
	t := clean(fixes)
	if t.Used < 2 {
		return nil, errors.New("no two fixes of the track belong together; is it a drive?")
	}
	return t, nil
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
	// If the second fix can't be reached from the first but leads on to the
	// third, the first one was wrong.
	if t.Timed && len(fixes) > 3 && !reaches(fixes[0], fixes[1]) && !reaches(fixes[0], fixes[2]) && reaches(fixes[1], fixes[2]) {
		drop(fixes[0], "jump at the start")
		fixes = fixes[1:]
		t.Start = fixes[0].At
	}
	for i, f := range fixes {
		if f.HDOP > maxHDOP {
			drop(f, fmt.Sprintf("poor fix: dilution of precision %s", say.Trim(f.HDOP, 1)))
			continue
		}
		if len(kept) == 0 {
			kept = append(kept, f)
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
			drop(f, "no later than the fix before it")
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
	t.settle(kept)
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

// settle finds standing that a wandering fix hides: slow steps that lead
// nowhere over some seconds.
func (t *Track) settle(kept []Fix) {
	if !t.Timed {
		return
	}
	slow := func(i int) bool {
		s := t.steps[i]
		return s.state != "gap" && s.meters/(s.to-s.from)*3.6 < wanderKMH
	}
	still := make([]bool, len(t.steps))
	for i := range t.steps {
		if !slow(i) {
			continue
		}
		a, b := i, i
		for a > 0 && t.steps[a-1].state != "gap" && t.steps[a-1].from >= t.steps[i].from-wanderFor {
			a--
		}
		for b+1 < len(t.steps) && t.steps[b+1].state != "gap" && t.steps[b+1].to <= t.steps[i].to+wanderFor {
			b++
		}
		// Too few steps around it tell nothing.
		if dt := t.steps[b].to - t.steps[a].from; dt >= wanderFor {
			still[i] = Meters(kept[a], kept[b+1])/dt*3.6 < stillKMH
		}
	}
	for i, is := range still {
		if is {
			t.steps[i].state = "paused"
		}
	}
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
