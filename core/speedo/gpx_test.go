package speedo

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
	"time"
)

var begin = time.Date(2031, 5, 4, 9, 0, 0, 0, time.UTC)

// north is a fix so many meters north of 62° N, 7° W.
func north(meters, east float64) (lat, lon float64) {
	// Radii at 62° of the WGS 84 ellipsoid, worked out by themselves:
	// M = 6385 km·…, from a = 6378137, e² = 0.00669437999.
	const a, e2 = 6378137.0, 0.00669437999
	s := math.Sin(62 * math.Pi / 180)
	m := a * (1 - e2) / math.Pow(1-e2*s*s, 1.5)
	n := a / math.Sqrt(1-e2*s*s)
	return 62 + meters/m*180/math.Pi, -7 + east/(n*math.Cos(62*math.Pi/180))*180/math.Pi
}

// dialect writes a track the way one kind of recorder does.
type dialect struct {
	head, tail string
	prefix     string
	point      func(prefix string, lat, lon float64, at time.Time) string
}

var dialects = map[string]dialect{
	"1.0": {
		head: `<?xml version="1.0"?><gpx version="1.0" creator="bench recorder" xmlns="http://www.topografix.com/GPX/1/0"><time>2031-05-04T09:00:00Z</time><trk><name>run</name><trkseg>`,
		tail: `</trkseg></trk></gpx>`,
		point: func(_ string, lat, lon float64, at time.Time) string {
			return fmt.Sprintf(`<trkpt lat="%.7f" lon="%.7f"><ele>31.0</ele><time>%s</time><course>0.0</course><speed>20.00</speed><fix>3d</fix><sat>9</sat></trkpt>`, lat, lon, at.Format(time.RFC3339))
		}},
	"1.1": {
		head: "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<gpx version=\"1.1\" creator=\"island logger\"\n xmlns=\"http://www.topografix.com/GPX/1/1\">\n<metadata><time>2031-05-04T09:00:00Z</time></metadata>\n<wpt lat=\"10\" lon=\"10\"><name>far away</name></wpt><rte><rtept lat=\"1\" lon=\"1\"/></rte><trk>\n<trkseg>\n",
		tail: "</trkseg>\n</trk>\n</gpx>\n",
		point: func(_ string, lat, lon float64, at time.Time) string {
			return fmt.Sprintf("<trkpt lon='%.7f' lat='%.7f'>\n  <ele>31</ele>\n  <time>%s</time>\n  <hdop>0.9</hdop>\n</trkpt>\n", lon, lat, at.Format("2006-01-02T15:04:05.000Z"))
		}},
	"1.1 with extensions and a prefix": {
		head:   `<g:gpx xmlns:g="http://www.topografix.com/GPX/1/1" xmlns:x="urn:example:bench" version="1.1" creator="x"><g:trk><g:extensions><x:color>2</x:color></g:extensions><g:trkseg>`,
		tail:   `</g:trkseg></g:trk></g:gpx>`,
		prefix: "g:",
		point: func(p string, lat, lon float64, at time.Time) string {
			return fmt.Sprintf(`<%strkpt lat="%.7f" lon="%.7f"><%stime>%s</%stime><%sextensions><x:fix><x:time>1999-01-01T00:00:00Z</x:time><x:hdop>99</x:hdop></x:fix></%sextensions></%strkpt>`,
				p, lat, lon, p, at.In(time.FixedZone("", 3600)).Format(time.RFC3339), p, p, p, p)
		}},
}

type sample struct {
	sec, meters, east float64
}

func (d dialect) write(points []sample) string {
	var b strings.Builder
	b.WriteString(d.head)
	for _, p := range points {
		lat, lon := north(p.meters, p.east)
		b.WriteString(d.point(d.prefix, lat, lon, begin.Add(time.Duration(p.sec*float64(time.Second)))))
	}
	b.WriteString(d.tail)
	return b.String()
}

// drive is 20 m/s (72 km/h) for so many seconds, one fix a second.
func drive(from, seconds, meters float64) []sample {
	var out []sample
	for s := 0.0; s <= seconds; s++ {
		out = append(out, sample{sec: from + s, meters: meters + 20*s})
	}
	return out
}

func TestDialects(t *testing.T) {
	for name, d := range dialects {
		tr, err := ReadTrack(d.write(drive(0, 100, 0)))
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		near(t, name+": meters", tr.Meters, 2000, 0.5)
		if tr.Fixes != 101 || tr.Used != 101 || tr.Moving != 100 || tr.Gaps != 0 || !tr.Timed {
			t.Errorf("%s: %+v", name, tr)
		}
		for _, s := range tr.Samples {
			near(t, name+": speed", s.KMH, 72, 0.2)
		}
	}
}

func TestBadFixesPausesAndGaps(t *testing.T) {
	d := dialects["1.1"]
	// 100 s of driving, then 60 s standing with a wandering fix, 100 s more,
	// 60 s without fixes at the same speed, 50 s more.
	pts := drive(0, 100, 0)
	for s := 1.0; s <= 60; s++ {
		pts = append(pts, sample{100 + s, 2000 + 0.3*math.Sin(s), 0.3 * math.Cos(s)})
	}
	pts = append(pts, drive(161, 100, 2000)...)
	pts = append(pts, drive(321, 50, 5200)...)
	// One fix two kilometers aside, and one with a time that goes back.
	bad := append([]sample{}, pts[:50]...)
	bad = append(bad, sample{49.5, 980, 2000})
	bad = append(bad, pts[50:]...)
	bad = append(bad[:80], append([]sample{{10, 300, 0}}, bad[80:]...)...)
	tr, err := ReadTrack(d.write(bad))
	if err != nil {
		t.Fatal(err)
	}
	if tr.DroppedAll != 2 {
		t.Errorf("dropped %+v", tr.Dropped)
	}
	if tr.Gaps != 1 || math.Abs(tr.GapMeters-1200) > 1 {
		t.Errorf("%d gaps of %v m", tr.Gaps, tr.GapMeters)
	}
	near(t, "standing", tr.Paused, 60, 3)
	near(t, "meters", tr.Meters, 2000+2000+1200+1000, 4)
	states := map[string]bool{}
	for _, s := range tr.Samples {
		states[s.State] = true
	}
	if !states["driving"] || !states["paused"] || !states["gap"] {
		t.Errorf("%v", states)
	}
	// A poor fix by its own word is left out.
	poor := strings.Replace(d.write(drive(0, 20, 0)), "<hdop>0.9</hdop>", "<hdop>12.5</hdop>", 1)
	if tr, err := ReadTrack(poor); err != nil || tr.DroppedAll != 1 || !strings.Contains(tr.Dropped[0].Why, "12.5") {
		t.Errorf("%v %+v", err, tr)
	}
	// Slow through a gate for two seconds is no pause.
	pts = drive(0, 30, 0)
	pts = append(pts, sample{31, 600.3, 0}, sample{32, 600.6, 0})
	pts = append(pts, drive(33, 30, 601)...)
	if tr, _ := ReadTrack(d.write(pts)); tr.Paused != 0 {
		t.Errorf("paused %v", tr.Paused)
	}
}

// A standing vehicle's fix wanders: 1.2 m from fix to fix is 4.3 km/h, and two
// minutes of it would add 144 m.
func TestWanderingFixIsStanding(t *testing.T) {
	run := drive(0, 100, 0)
	for s := 101.0; s <= 220; s++ {
		run = append(run, sample{sec: s, meters: 2000, east: 0.6 * math.Cos(math.Pi*s)})
	}
	run = append(run, drive(221, 100, 2000)[1:]...)
	tr, err := ReadTrack(dialects["1.1"].write(run))
	if err != nil {
		t.Fatal(err)
	}
	if math.Abs(tr.Meters-4000) > 12 || tr.Paused < 108 || tr.Paused > 122 || tr.Gaps != 0 {
		t.Errorf("%.1f m, %.0f s standing, %d gaps; want 4000 m and about 120 s", tr.Meters, tr.Paused, tr.Gaps)
	}
	// Creeping at 5 km/h leads somewhere and is driving.
	var creep []sample
	for s := 0.0; s <= 200; s++ {
		creep = append(creep, sample{sec: s, meters: s * 5 / 3.6})
	}
	if tr, err = ReadTrack(dialects["1.1"].write(creep)); err != nil || tr.Paused != 0 || math.Abs(tr.Meters-277.8) > 1 {
		t.Errorf("creeping: %v, %.1f m, %.0f s standing; want 277.8 m and none", err, tr.Meters, tr.Paused)
	}
}

func TestFirstFixWrong(t *testing.T) {
	pts := append([]sample{{0, 900_000, 0}}, drive(1, 60, 0)...)
	tr, err := ReadTrack(dialects["1.0"].write(pts))
	if err != nil {
		t.Fatal(err)
	}
	near(t, "meters", tr.Meters, 1200, 0.5)
	if tr.Used != 61 || tr.DroppedAll != 1 {
		t.Errorf("%+v", tr)
	}
}

func TestSegmentsAndNoTimes(t *testing.T) {
	two := strings.Replace(dialects["1.1"].write(append(drive(0, 30, 0), drive(31, 30, 620)...)), "<trkpt lon='-7.0000000' lat='62.0055", "</trkseg><trkseg><trkpt lon='-7.0000000' lat='62.0055", 1)
	tr, err := ReadTrack(two)
	if err != nil || tr.Gaps != 1 {
		t.Errorf("%v %+v", err, tr)
	}
	var b strings.Builder
	b.WriteString(`<gpx version="1.1"><trk><trkseg>`)
	for i := 0; i <= 50; i++ {
		lat, lon := north(float64(i)*40, 0)
		fmt.Fprintf(&b, `<trkpt lat="%.7f" lon="%.7f"/>`, lat, lon)
	}
	b.WriteString(`</trkseg></trk></gpx>`)
	tr, err = ReadTrack(b.String())
	if err != nil || tr.Timed || math.Abs(tr.Meters-2000) > 0.5 || !strings.Contains(tr.Text, "no times") {
		t.Errorf("%v %+v", err, tr)
	}
}

// The whole check: the odometer counts 1.9 km over 2 km, and the needle shows
// 68.4 at 72.
func TestTrackAgainstOdometerAndNeedle(t *testing.T) {
	gpx := dialects["1.1"].write(drive(0, 200, 0))
	a, err := Work(Request{Verify: &Verify{Method: "track", GPX: gpx, ShownKM: fig("3.8"), StepKM: 0.01, Noted: []Noted{{"100", 68.4}, {"2031-05-04T09:02:30Z", 68.4}}, Drive: 8, Driven: 26}})
	if err != nil {
		t.Fatal(err)
	}
	v := a.Verified
	if len(v.Checks) != 3 {
		t.Fatalf("%+v", v.Checks)
	}
	for _, c := range v.Checks {
		near(t, c.What, c.Percent, -5, 0.05)
	}
	if v.Level != "low" || *v.Teeth != 24 {
		t.Errorf("%s, %d teeth", v.Level, *v.Teeth)
	}
	for field, x := range map[string]Verify{
		"verify/noted/0/time":      {Method: "track", GPX: gpx, Noted: []Noted{{"900", 70}}},
		"verify/noted/0/time: sec": {Method: "track", GPX: gpx, Noted: []Noted{{"noon", 70}}},
		"verify/noted/0/shown_kmh": {Method: "track", GPX: gpx, Noted: []Noted{{"50", 0}}},
		"verify/shown_km":          {Method: "track", GPX: gpx},
	} {
		x := x
		if _, err := Work(Request{Verify: &x}); err == nil || !strings.HasPrefix(err.Error(), field) {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// Along a meridian and along a parallel of the ellipsoid the distance is
// known: a degree of latitude at 60° is 111.412 km, a degree of longitude
// there 55.800 km (from the ellipsoid's tables).
func TestMeters(t *testing.T) {
	near(t, "latitude", Meters(Fix{Lat: 59.5}, Fix{Lat: 60.5}), 111_412.3, 1.5)
	near(t, "longitude", Meters(Fix{Lat: 60, Lon: 4.5}, Fix{Lat: 60, Lon: 5.5}), 55_799.5, 1.5)
	near(t, "over the date line", Meters(Fix{Lat: 60, Lon: 179.9999}, Fix{Lat: 60, Lon: -179.9999}), 11.16, 0.01)
	near(t, "at the equator", Meters(Fix{Lon: 10}, Fix{Lon: 10.001}), 111.3195, 0.0005)
}

func TestGPXRefuses(t *testing.T) {
	for in, want := range map[string]string{
		"":                   "empty",
		"not xml":            "empty",
		"<gpx><trk><trkseg>": "line 1",
		"<kml></kml>":        "begins with <kml>",
		"<gpx></gpx>":        "no track",
		`<gpx><trk><trkseg><trkpt lat="91" lon="0"/></trkseg></trk></gpx>`:                          "lat from",
		`<gpx><trk><trkseg><trkpt lon="0"/></trkseg></trk></gpx>`:                                   "lat from",
		`<gpx><trk><trkseg><trkpt lat="1" lon="1"/></trkseg></trk></gpx>`:                           "at least two",
		`<?xml version="1.0" encoding="utf-32"?><gpx></gpx>`:                                        "encoding",
		`<gpx>` + strings.Repeat("<a>", 200) + `</gpx>`:                                             "nests too deep",
		`<gpx><trk><trkseg><trkpt lat="NaN" lon="1"/><trkpt lat="1" lon="1"/></trkseg></trk></gpx>`: "lat from",
	} {
		_, err := ReadTrack(in)
		if err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%.60q: %v, want %q", in, err, want)
		}
	}
}

func FuzzTrack(f *testing.F) {
	for _, d := range dialects {
		f.Add(d.write(drive(0, 12, 0)))
	}
	f.Add(`<gpx><trk><trkseg><trkpt lat="1" lon="1"><time>x</time></trkpt><trkpt lat="1" lon="1"/></trkseg></trk></gpx>`)
	f.Fuzz(func(t *testing.T, s string) {
		tr, err := ReadTrack(s)
		if err != nil {
			return
		}
		if math.IsNaN(tr.Meters) || math.IsInf(tr.Meters, 0) || tr.Meters < 0 || tr.Used+tr.DroppedAll != tr.Fixes {
			t.Fatalf("%+v", tr)
		}
		if _, err := Test(Verify{Method: "track", GPX: s, ShownKM: fig("3"), Noted: []Noted{{"5", 60}}}); err == nil && tr.Meters < 100 {
			t.Fatal("a track of no length was compared")
		}
	})
}

func BenchmarkTrack(b *testing.B) {
	text := dialects["1.1"].write(drive(0, 3600, 0))
	for b.Loop() {
		if _, err := ReadTrack(text); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkTrackXMLOnly(b *testing.B) {
	text := dialects["1.1"].write(drive(0, 3600, 0))
	for b.Loop() {
		if _, err := ParseGPX(strings.NewReader(text)); err != nil {
			b.Fatal(err)
		}
	}
}

// winding is a drive with bends of 40 to 120 m radius at 8 to 22 m/s, one
// fix every dt seconds, and its true length.
func winding(seconds, dt float64) (pts []sample, length float64) {
	const fine = 0.01
	x, y, heading := 0.0, 0.0, 0.0
	next := 0.0
	for k := 0; float64(k)*fine <= seconds; k++ {
		s := float64(k) * fine
		v := 15 + 7*math.Sin(s/23)
		radius := 80 + 40*math.Sin(s/31)
		if s >= next-1e-9 {
			pts = append(pts, sample{s, x, y})
			next += dt
		}
		heading += v * fine / radius * math.Sin(s/9)
		x, y = x+v*fine*math.Cos(heading), y+v*fine*math.Sin(heading)
		length += v * fine
	}
	return pts, length
}

// The stated spread holds when it is tried: white noise, few decimals, a high
// rate of fixes, bends.
func TestSpreadHoldsOnNoisyTracks(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 9))
	few := dialect{head: dialects["1.1"].head, tail: dialects["1.1"].tail, point: func(_ string, lat, lon float64, at time.Time) string {
		return fmt.Sprintf(`<trkpt lat="%.5f" lon="%.5f"><time>%s</time></trkpt>`, lat, lon, at.Format("2006-01-02T15:04:05.000Z"))
	}}
	for _, c := range []struct {
		name  string
		d     dialect
		dt    float64
		sigma float64
		most  float64 // the spread must stay useful, in percent
	}{
		{"1 Hz, clean", dialects["1.1"], 1, 0, 1},
		{"1 Hz, five decimals", few, 1, 0, 1.2},
		{"10 Hz, five decimals", few, 0.1, 0, 1.2},
		{"5 Hz, 0.5 m", dialects["1.1"], 0.2, 0.5, 1.2},
		{"5 Hz, 1 m", dialects["1.1"], 0.2, 1, 1.2},
		{"1 Hz, 1 m", dialects["1.1"], 1, 1, 2},
		{"1 Hz, 3 m", dialects["1.1"], 1, 3, 8},
		{"10 Hz, 1 m", dialects["1.1"], 0.1, 1, 1.2},
	} {
		inside, worst := 0, 0.0
		const tries = 6
		for range tries {
			pts, length := winding(420, c.dt)
			for i := range pts {
				pts[i].meters += c.sigma * r.NormFloat64()
				pts[i].east += c.sigma * r.NormFloat64()
			}
			tr, err := ReadTrack(c.d.write(pts))
			if err != nil {
				t.Fatal(err)
			}
			sure := 2 * math.Hypot(trackError, tr.Noise)
			off := math.Abs(tr.Meters/length-1) * 100
			if off <= sure {
				inside++
			}
			worst = math.Max(worst, off)
			if sure > c.most {
				t.Errorf("%s: ± %.2f %% is of no use (scatter %v m)", c.name, sure, tr.Scatter)
			}
		}
		if inside < tries {
			t.Errorf("%s: %d of %d inside the stated spread, worst %.2f %% off", c.name, inside, tries, worst)
		}
	}
}

// Standing with white wander adds no length.
func TestStandingUnderWhiteWander(t *testing.T) {
	r := rand.New(rand.NewPCG(6, 9))
	for _, dt := range []float64{0.2, 1} {
		for _, sigma := range []float64{0.5, 1, 2} {
			var pts []sample
			add := func(from, to, m0, v float64) float64 {
				for s := from; s < to-1e-9; s += dt {
					pts = append(pts, sample{s, m0 + v*(s-from) + sigma*r.NormFloat64(), sigma * r.NormFloat64()})
				}
				return m0 + v*(to-from)
			}
			m := add(0, 150, 0, 20)
			m = add(150, 330, m, 0)
			m = add(330, 480, m, 20)
			tr, err := ReadTrack(dialects["1.1"].write(pts))
			if err != nil {
				t.Fatal(err)
			}
			sure := 2 * math.Hypot(trackError, tr.Noise)
			if off := math.Abs(tr.Meters/m-1) * 100; off > sure {
				t.Errorf("every %v s, %v m: %.0f m of %.0f, %.2f %% off, stated ± %.2f %%; %.0f s standing", dt, sigma, tr.Meters, m, off, sure, tr.Paused)
			}
		}
	}
}

// Tracks in the wrong order of time are put in order, a cold start's zeros are
// left out, and two recordings of the same time are refused.
func TestOrderAndColdStarts(t *testing.T) {
	d := dialects["1.1"]
	part := func(pts []sample) string {
		s := strings.TrimPrefix(d.write(pts), d.head)
		return "<trkseg>" + strings.TrimSuffix(s, d.tail) + "</trkseg>"
	}
	first, second := drive(0, 100, 0), drive(101, 100, 2020)
	text := `<gpx version="1.1"><trk>` + part(second) + `</trk><trk>` + part(first) + `</trk></gpx>`
	tr, err := ReadTrack(text)
	if err != nil || tr.DroppedAll != 0 || math.Abs(tr.Meters-4020) > 1 {
		t.Errorf("wrong order: %v %+v", err, tr)
	}
	zeros := ""
	for s := range 3 {
		zeros += fmt.Sprintf(`<trkpt lat="0" lon="0"><time>%s</time></trkpt>`, begin.Add(time.Duration(s-5)*time.Second).Format(time.RFC3339))
	}
	cold := strings.Replace(d.write(first), "<trkseg>\n", "<trkseg>"+zeros, 1)
	if tr, err = ReadTrack(cold); err != nil || tr.DroppedAll != 3 || math.Abs(tr.Meters-2000) > 1 {
		t.Errorf("cold start: %v %+v", err, tr)
	}
	// Three fixes at one wrong place, not at zero.
	lost := append([]sample{{-3, 800_000, 0}, {-2, 800_000, 0}, {-1, 800_000, 1}}, first...)
	if tr, err = ReadTrack(d.write(lost)); err != nil || tr.DroppedAll != 3 || math.Abs(tr.Meters-2000) > 1 {
		t.Errorf("a wrong start: %v %+v", err, tr)
	}
	twice := `<gpx version="1.1"><trk>` + part(drive(0, 100, 0)) + `</trk><trk>` + part(drive(0, 100, 5)) + `</trk></gpx>`
	if _, err = ReadTrack(twice); err == nil || !strings.Contains(err.Error(), "two recordings") {
		t.Errorf("two recordings: %v", err)
	}
}
