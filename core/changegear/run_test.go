package changegear

import (
	"fmt"
	"math"
	"strings"
	"testing"
)

// recorded makes a log: up through the gears on the fitted 133/36, at 100 rows
// a second, from gear 2 on.
func recorded(sep, decimal string, scale float64, rows int) string {
	var b strings.Builder
	fmt.Fprintf(&b, "Time (s)%sEngine rpm%sSpeed (km/h)\n", sep, sep)
	num := func(v float64) string { return strings.Replace(fmt.Sprintf("%.3f", v), ".", decimal, 1) }
	ratios := []float64{1.59, 1.19, 1}
	kmh, gear := 60.0, 0
	for i := range rows {
		per := ratios[gear] * 133 / 36 / (1990 * 60e-6)
		rpm := kmh * per
		if rpm > 7000 && gear < 2 {
			gear++
		}
		fmt.Fprintf(&b, "%s%s%s%s%s\n", num(float64(i)/100), sep, num(kmh*per), sep, num(kmh*scale))
		kmh = math.Min(kmh+7200/float64(rows)*0.03, 220)
		_ = rpm
	}
	return b.String()
}

func TestReadRun(t *testing.T) {
	for name, text := range map[string]string{
		"commas":        recorded(",", ".", 1, 3000),
		"semicolons":    recorded(";", ",", 1, 3000),
		"tabs":          recorded("\t", ",", 1, 3000),
		"miles an hour": strings.Replace(recorded(",", ".", 1/1.609344, 3000), "Speed (km/h)", "Speed mph", 1),
		"byte order":    "\ufeff" + recorded(",", ".", 1, 3000),
	} {
		r, err := ReadRun(plain(), RunFile{Text: text, Limiter: 7000})
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		if r.Rows != 3000 || math.Abs(r.PeakKMH-220) > 0.5 || len(r.Dropped) != 0 || r.Spin != 0 {
			t.Errorf("%s: %d rows, peak %v, dropped %v, spin %v", name, r.Rows, r.PeakKMH, r.Dropped, r.Spin)
		}
		if r.Gears[1].Gear != "2" || r.Gears[1].Seconds < 1 || r.Gears[3].Seconds < 1 || math.Abs(r.Gears[3].PeakRPM-220*133/36/(1990*60e-6)) > 20 {
			t.Errorf("%s: %+v", name, r.Gears)
		}
		// 6807 rpm at 220; wanted 6860: what is in it stays.
		if r.Pick == nil || !strings.HasPrefix(r.Pick.Sentence, "Leave 3.69") {
			t.Errorf("%s: %+v", name, r.Pick)
		}
		if r.Growth == nil || math.Abs(*r.Growth) > 0.05 {
			t.Errorf("%s: growth %v", name, r.Growth)
		}
	}
}

func TestRunWithTrouble(t *testing.T) {
	lines := strings.Split(strings.TrimSpace(recorded(",", ".", 1.02, 3000)), "\n")
	lines[500] = lines[499]                   // a repeated time
	lines[600] = lines[300]                   // back in time
	lines[700] = "7.0,engine,fast"            // no figures
	lines[800] = "8.0,99000,100"              // no engine does that
	lines = append(lines, "31,,", "no more,") // cut off
	r, err := ReadRun(plain(), RunFile{Text: strings.Join(lines, "\n"), Wanted: 6000})
	if err != nil {
		t.Fatal(err)
	}
	want := "3 rows could not be read as figures; 1 rows repeat the time before them; 1 rows go back in time; 1 rows hold an rpm or a speed that can't be"
	if got := strings.Join(r.Dropped, "; "); got != want {
		t.Errorf("dropped %q", got)
	}
	// The tire rolled 2 % farther than it was entered with.
	if r.Growth == nil || math.Abs(*r.Growth-2) > 0.1 {
		t.Errorf("growth %v", *r.Growth)
	}
	// 133/36 × 6000 ÷ 6807 = 3.256: 19 on the pinion shaft, 26 on the input is nearest.
	if !strings.HasPrefix(r.Pick.Sentence, "Fit 3.09, set 3: 26 on the input shaft, 19 on the pinion shaft") {
		t.Errorf("%s", r.Pick.Sentence)
	}
	spin := "t,n,v\n"
	for i := range 400 {
		k := 133.0 / 36 / (1990 * 60e-6)
		if i > 100 && i < 200 {
			k *= 1.1
		}
		spin += fmt.Sprintf("%.2f,%.1f,%.1f\n", float64(i)/100, 120*k, 120.0)
	}
	if r, err = ReadRun(plain(), RunFile{Text: spin}); err != nil || math.Abs(r.Spin-0.99) > 0.011 || r.Pick != nil {
		t.Errorf("spin %v s, %v", r, err)
	}
}

func TestRunRefusals(t *testing.T) {
	good := recorded(",", ".", 1, 100)
	for field, f := range map[string]RunFile{
		"run/text":              {Text: ""},
		"run/columns/time":      {Text: strings.Replace(good, "Time (s)", "stamp", 1)},
		"run/columns/speed":     {Text: good, Columns: Columns{Speed: "Windspeed"}},
		"run/columns/rpm":       {Text: good, Columns: Columns{RPM: "Time (s)"}},
		"run/limiter_rpm":       {Text: good, Limiter: 1},
		"run/columns/time_unit": {Text: good, Columns: Columns{TimeUnit: "fortnight"}},
	} {
		if _, err := ReadRun(plain(), f); err == nil || !strings.HasPrefix(err.Error(), field+":") {
			t.Errorf("%s: %v", field, err)
		}
	}
	q := plain()
	q.Fitted = nil
	if _, err := ReadRun(q, RunFile{Text: good}); err == nil || !strings.HasPrefix(err.Error(), "fitted/input") {
		t.Errorf("nothing fitted: %v", err)
	}
}

func FuzzReadRun(f *testing.F) {
	f.Add(recorded(",", ".", 1, 50))
	f.Add("t;n;v\n0:01,5;3000;44,2\n")
	f.Add("\"time\",\"rpm\",\"speed\"\n\"\n")
	f.Fuzz(func(t *testing.T, text string) {
		r, err := ReadRun(plain(), RunFile{Text: text, Limiter: 7000})
		if err == nil && (r.Rows > MaxRows || len(r.Trace) > 4000 || math.IsNaN(r.PeakRPM)) {
			t.Errorf("%+v", r)
		}
	})
}

func BenchmarkReadRun(b *testing.B) {
	text := recorded(";", ",", 1, MaxRows)
	for b.Loop() {
		if _, err := ReadRun(plain(), RunFile{Text: text, Limiter: 7000}); err != nil {
			b.Fatal(err)
		}
	}
}
