package changegear

import (
	"cmp"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"

	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// MaxRows bounds a log file; MaxColumns its width.
const (
	MaxRows    = 200_000
	MaxColumns = 100
)

// Columns names the columns of a log file as its first line does. Those left
// out are guessed.
type Columns struct {
	Time  string `json:"time,omitempty"`
	RPM   string `json:"rpm,omitempty"`
	Speed string `json:"speed,omitempty"`
	// Units: s or ms of time; km/h, mph, m/s or kn of speed.
	TimeUnit  string `json:"time_unit,omitempty"`
	SpeedUnit string `json:"speed_unit,omitempty"`
}

// RunFile is a recorded run and what is wanted of it.
type RunFile struct {
	Text    string  `json:"text"`
	Columns Columns `json:"columns,omitzero"`
	Limiter float64 `json:"limiter_rpm,omitempty"`
	Wanted  float64 `json:"wanted_rpm,omitempty"` // at the peak speed; the limiter less 2 % if left out
}

// InGear is the part of a run in one gear.
type InGear struct {
	Gear    string  `json:"gear"`
	Seconds float64 `json:"seconds"`
	PeakRPM float64 `json:"peak_rpm"`
	PeakKMH float64 `json:"peak_kmh"`
	Limiter float64 `json:"limiter_seconds"`
}

// Run is a run read and cleaned.
type Run struct {
	Columns   Columns  `json:"columns"` // as they were taken
	Header    []string `json:"header"`
	Rows      int      `json:"rows"`    // read
	Dropped   []string `json:"dropped"` // what was left out, and how much
	Seconds   float64  `json:"seconds"`
	PeakRPM   float64  `json:"peak_rpm"`
	PeakKMH   float64  `json:"peak_kmh"`
	AtPeakRPM float64  `json:"rpm_at_peak_kmh"`
	Gears     []InGear `json:"gears"`
	Spin      float64  `json:"spin_seconds"`  // wheels spinning or clutch slipping
	Other     float64  `json:"other_seconds"` // between gears, coasting out of gear, too slow to tell
	// Growth is how much farther the tire rolled at the run's greatest speeds
	// than as entered, in percent; absent where no gear was held long enough.
	Growth *float64 `json:"growth_percent,omitempty"`
	Pick   *Pick    `json:"pick,omitempty"` // what puts the peak where it is wanted
	Text   string   `json:"text"`
	// Trace is the run thinned out for drawing: seconds, rpm, km/h, and the
	// gear's place in Gears of the answer, or −1.
	Trace [][4]float64 `json:"trace"`
}

type sample struct{ t, rpm, kmh float64 }

// ReadRun reads a run's log, and says what the set that was in it made of it.
func ReadRun(q Request, f RunFile) (*Run, error) {
	if err := fault.Figures(f); err != nil {
		return nil, fault.Under("run", err)
	}
	q.Goal = nil
	w, err := q.settle("", "")
	if err != nil {
		return nil, err
	}
	if w.fitted == nil {
		return nil, fault.New("fitted/input", "the pair that was installed is needed, counted")
	}
	if w.rolling.Sign() <= 0 {
		return nil, fault.New("tire/marking", "the tire is needed to tell the gears apart: its marking, or better its rollout")
	}
	for field, v := range map[string]float64{"limiter_rpm": f.Limiter, "wanted_rpm": f.Wanted} {
		if v != 0 && !(v >= 500 && v <= 25000) {
			return nil, fault.New("run/"+field, "from 500 to 25000 rpm")
		}
	}
	out := &Run{Gears: []InGear{}, Dropped: []string{}, Trace: [][4]float64{}}
	samples, err := out.read(f)
	if err != nil {
		return nil, err
	}
	w.gearByGear(out, samples, f.Limiter)
	w.wantedPeak(out, f)
	return out, nil
}

// read parses the text, guesses what the columns are, and drops what can't be.
func (out *Run) read(f RunFile) ([]sample, error) {
	sep, comma := separator(f.Text)
	r := csv.NewReader(strings.NewReader(strings.TrimPrefix(f.Text, "\ufeff")))
	r.Comma, r.FieldsPerRecord, r.LazyQuotes, r.ReuseRecord, r.TrimLeadingSpace = sep, -1, true, true, true
	head, err := r.Read()
	if err != nil {
		return nil, fault.New("run/text", "a CSV file with a first line that names its columns is expected")
	}
	if len(head) > MaxColumns {
		return nil, fault.New("run/text", "at most %d columns", MaxColumns)
	}
	for _, h := range head {
		out.Header = append(out.Header, say.Clip(strings.TrimSpace(h), 60))
	}
	at, err := out.columns(f.Columns)
	if err != nil {
		return nil, err
	}
	perTime := map[string]float64{"s": 1, "ms": 0.001}[out.Columns.TimeUnit]
	perSpeed := map[string]float64{"km/h": 1, "mph": say.KMPerMile, "m/s": 3.6, "kn": 1.852}[out.Columns.SpeedUnit]
	var list []sample
	var unread, back, again, odd int
	for {
		row, err := r.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			unread++
			if out.Rows++; out.Rows > MaxRows {
				return nil, fault.New("run/text", "at most %d rows", MaxRows)
			}
			continue
		}
		if out.Rows++; out.Rows > MaxRows {
			return nil, fault.New("run/text", "at most %d rows", MaxRows)
		}
		var v [3]float64
		ok := true
		for i, k := range at {
			if k >= len(row) {
				ok = false
				break
			}
			x, good := figure(row[k], comma, i == 0)
			ok = ok && good
			v[i] = x
		}
		if !ok {
			unread++
			continue
		}
		s := sample{v[0] * perTime, v[1], v[2] * perSpeed}
		switch n := len(list); {
		case !(s.rpm >= 0 && s.rpm <= 30000 && s.kmh >= 0 && s.kmh <= 600):
			odd++
		case n > 0 && s.t == list[n-1].t:
			again++
		case n > 0 && s.t < list[n-1].t:
			back++
		default:
			list = append(list, s)
		}
	}
	for _, d := range []struct {
		n    int
		what string
	}{{unread, "could not be read as figures"}, {again, "repeat the time before them"}, {back, "go back in time"}, {odd, "hold an rpm or a speed that can't be"}} {
		if d.n > 0 {
			out.Dropped = append(out.Dropped, rowsDropped(d))
		}
	}
	if len(list) < 10 {
		return nil, fault.New("run/text", "only %d rows hold time, rpm and speed; is it the right file, and are these its columns: %s, %s, %s?", len(list), out.Columns.Time, out.Columns.RPM, out.Columns.Speed)
	}
	out.Seconds = say.Round(list[len(list)-1].t-list[0].t, 3)
	return list, nil
}

// separator tells what parts the columns, and whether figures have a decimal
// comma.
func separator(text string) (rune, bool) {
	line, _, _ := strings.Cut(text, "\n")
	semi, tab, comma := strings.Count(line, ";"), strings.Count(line, "\t"), strings.Count(line, ",")
	switch {
	case semi > 0 && semi >= tab:
		return ';', true
	case tab > 0:
		return '\t', true
	case comma > 0:
		return ',', false
	}
	return ';', true
}

// figure reads a number; a time may be hours, minutes and seconds.
func figure(s string, comma, clock bool) (float64, bool) {
	s = strings.TrimSpace(s)
	if comma && strings.IndexByte(s, ',') >= 0 {
		s = strings.Replace(s, ",", ".", 1)
	}
	if clock && strings.IndexByte(s, ':') >= 0 {
		total := 0.0
		parts := strings.Split(s, ":")
		if len(parts) > 3 {
			return 0, false
		}
		for _, p := range parts {
			x, err := strconv.ParseFloat(p, 64)
			if err != nil || x < 0 || math.IsInf(x, 0) || math.IsNaN(x) {
				return 0, false
			}
			total = total*60 + x
		}
		return total, true
	}
	x, err := strconv.ParseFloat(s, 64)
	return x, err == nil && !math.IsNaN(x) && !math.IsInf(x, 0) && math.Abs(x) < 1e12
}

// columns finds time, rpm and speed by their names.
func (out *Run) columns(c Columns) ([3]int, error) {
	var at [3]int
	for i, x := range []struct {
		field, given string
		words        []string
		to           *string
	}{
		{"time", c.Time, []string{"time", "elapsed", "seconds", "t"}, &out.Columns.Time},
		{"rpm", c.RPM, []string{"rpm", "engine", "revs", "n", "1/min"}, &out.Columns.RPM},
		{"speed", c.Speed, []string{"speed", "km/h", "kmh", "mph", "velocity", "v"}, &out.Columns.Speed},
	} {
		k := -1
		if x.given != "" {
			if k = slices.IndexFunc(out.Header, func(h string) bool { return strings.EqualFold(h, strings.TrimSpace(x.given)) }); k < 0 {
				return at, fault.New("run/columns/"+x.field, "one of the file's columns: %s", strings.Join(out.Header, ", "))
			}
		}
		for _, word := range x.words {
			if k >= 0 {
				break
			}
			k = slices.IndexFunc(out.Header, func(h string) bool {
				h = strings.ToLower(h)
				if len(word) == 1 {
					return h == word || strings.HasPrefix(h, word+" ") || strings.HasPrefix(h, word+"(") || strings.HasPrefix(h, word+"[")
				}
				return strings.Contains(h, word)
			})
		}
		if k < 0 {
			return at, fault.New("run/columns/"+x.field, "which column is it? The file has %s", strings.Join(out.Header, ", "))
		}
		at[i], *x.to = k, out.Header[k]
	}
	if at[0] == at[1] || at[1] == at[2] || at[0] == at[2] {
		return at, fault.New("run/columns/rpm", "time, rpm and speed are three different columns; the file has %s", strings.Join(out.Header, ", "))
	}
	unit := func(field, given, name string, known []string, or string) (string, error) {
		if given != "" {
			if !slices.Contains(known, given) {
				return "", fault.New("run/columns/"+field, "%s", strings.Join(known, ", "))
			}
			return given, nil
		}
		name = strings.ToLower(strings.NewReplacer("kmh", "km/h", "kph", "km/h", "knots", "kn").Replace(strings.ToLower(name)))
		for _, u := range known {
			for _, w := range strings.FieldsFunc(name, func(r rune) bool { return strings.ContainsRune(" ()[],_", r) }) {
				if w == u {
					return u, nil
				}
			}
		}
		return or, nil
	}
	var err error
	if out.Columns.TimeUnit, err = unit("time_unit", c.TimeUnit, out.Columns.Time, []string{"s", "ms"}, "s"); err != nil {
		return at, err
	}
	out.Columns.SpeedUnit, err = unit("speed_unit", c.SpeedUnit, out.Columns.Speed, []string{"km/h", "mph", "m/s", "kn"}, "km/h")
	return at, err
}

// How far engine speed over road speed may lie from a gear's own, and from
// where on the wheels are taken to spin.
const (
	inGearWithin = 0.035
	spinsUpTo    = 0.25
)

// gearByGear tells the gears apart by engine speed over wheel speed.
func (w *work) gearByGear(out *Run, list []sample, limiter float64) {
	overall := w.base.Mul(w.fitted.ratio())
	per := make([]float64, len(w.gears)) // rpm per km/h
	for i, g := range w.gears {
		per[i] = g.ratio.Mul(overall).Float() / (w.rolling.Float() * 60e-6)
		out.Gears = append(out.Gears, InGear{Gear: g.name})
	}
	thin := max(1, len(list)/1500)
	var growth []float64
	last := -1 // the gear it was in
	for i, s := range list {
		dt := 0.0
		if i+1 < len(list) {
			dt = math.Min(list[i+1].t-s.t, 1) // a hole in the log is no time in gear
		}
		gear := -1
		if s.kmh >= 15 && s.rpm >= 800 {
			k := s.rpm / s.kmh
			best, off := 0, math.Inf(1)
			for j, p := range per {
				if d := math.Abs(math.Log(k / p)); d < off {
					best, off = j, d
				}
			}
			switch {
			case off <= inGearWithin:
				gear, last = best, best
				g := &out.Gears[best]
				g.Seconds += dt
				g.PeakRPM, g.PeakKMH = math.Max(g.PeakRPM, s.rpm), math.Max(g.PeakKMH, s.kmh)
				if limiter > 0 && s.rpm >= 0.99*limiter {
					g.Limiter += dt
				}
				if best == len(per)-1 { // the tallest
					growth = append(growth, s.kmh, 100*(per[best]/k-1))
				}
			case last >= 0 && k > per[last]*(1+inGearWithin) && k < per[last]*(1+spinsUpTo):
				out.Spin += dt
			default:
				out.Other += dt
			}
		} else {
			out.Other += dt
		}
		if s.rpm > out.PeakRPM {
			out.PeakRPM = s.rpm
		}
		if s.kmh > out.PeakKMH {
			out.PeakKMH, out.AtPeakRPM = s.kmh, s.rpm
		}
		if i%thin == 0 {
			out.Trace = append(out.Trace, [4]float64{say.Round(s.t, 3), say.Round(s.rpm, 0), say.Round(s.kmh, 2), float64(gear)})
		}
	}
	for i := range out.Gears {
		g := &out.Gears[i]
		g.Seconds, g.Limiter = say.Round(g.Seconds, 2), say.Round(g.Limiter, 2)
	}
	out.Spin, out.Other = say.Round(out.Spin, 2), say.Round(out.Other, 2)
	out.growth(growth)
}

// growth is the median deviation among the fastest tenth in the tallest gear.
func (out *Run) growth(pairs []float64) {
	n := len(pairs) / 2
	if n < 50 {
		return
	}
	order := make([]int, n)
	for i := range order {
		order[i] = i
	}
	slices.SortFunc(order, func(a, b int) int { return cmp.Compare(pairs[2*b], pairs[2*a]) })
	top := order[:max(20, n/10)]
	devs := make([]float64, len(top))
	for i, k := range top {
		devs[i] = pairs[2*k+1]
	}
	slices.Sort(devs)
	g := say.Round(devs[len(devs)/2], 2)
	out.Growth = &g
}

// wantedPeak finds the set that would have put the peak where it is wanted.
func (w *work) wantedPeak(out *Run, f RunFile) {
	wanted := f.Wanted
	if wanted == 0 && f.Limiter > 0 {
		wanted = 0.98 * f.Limiter
	}
	out.Text = w.peakText(out)
	if out.Spin > 0.5 {
		out.Text += spunText(out)
	}
	if wanted == 0 {
		return
	}
	want, err := exact.Of(w.base.Mul(w.fitted.ratio()).Float() * wanted / math.Max(out.AtPeakRPM, 1))
	if err != nil {
		return
	}
	ladder := w.ladder()
	best := 0
	for i, r := range ladder {
		if math.Abs(math.Log(r.Overall.Float()/want.Float())) < math.Abs(math.Log(ladder[best].Overall.Float()/want.Float())) {
			best = i
		}
	}
	w.q.RPM = wanted
	g := Goal{Kind: BySpeed, KMH: out.PeakKMH, RPM: wanted}
	p := &Pick{Wanted: &want, Why: []string{}, Buy: []Buy{}, Chosen: w.choice(ladder, best, &g), Shorter: w.choice(ladder, best-1, &g), Taller: w.choice(ladder, best+1, &g)}
	p.Formula = fmt.Sprintf("overall = fitted × target rpm ÷ rpm at the peak speed = %s × %s ÷ %s = %s",
		w.base.Mul(w.fitted.ratio()).Short(3), say.Trim(wanted, 0), say.Trim(out.AtPeakRPM, 0), want.Short(3))
	verb := "Fit"
	if ladder[best].Fitted {
		verb = "Leave"
	}
	p.Sentence = w.samePeak(verb, p, out, ladder, best)
	w.toBuy(p, ladder)
	out.Pick = p
}
