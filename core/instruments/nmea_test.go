package instruments

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
)

func line(body string) string { return fmt.Sprintf("$%s*%02X", body, Checksum(body)) }

// The standard's own example of a checksum, and one by hand: A ^ B is 03.
func TestChecksum(t *testing.T) {
	if c := Checksum("GPGLL,5300.97914,N,00259.98174,E,125926,A"); c != 0x28 {
		t.Errorf("%02X", c)
	}
	if Checksum("AB") != 3 {
		t.Error("A and B")
	}
}

func TestReader(t *testing.T) {
	r := &Reader{}
	take := func(s string, at float64) Sample {
		x, _ := r.Take(s, at)
		return x
	}
	take(line("IIRPM,E,1,4200,,A"), 0)
	s := take(line("GPRMC,120000,A,6200.0,N,00700.0,W,21.4,90.0,251126,,"), 0.1)
	if s.RPM != 4200 || s.SpeedKN != 21.4 || !s.HasRPM || !s.HasKN {
		t.Fatalf("%+v", s)
	}
	// Another talker while the first speaks; then the first is silent.
	if s = take(line("GNVTG,90,T,,M,99.0,N,183.3,K,A"), 1); s.SpeedKN != 21.4 || r.Count.Other != 1 {
		t.Errorf("the second talker was believed: %+v", s)
	}
	if s = take(line("GNVTG,90,T,,M,20.0,N,37.0,K,A"), 8); s.SpeedKN != 20 || r.Count.Talkers != 2 {
		t.Errorf("nobody took over: %+v", s)
	}
	if s = take(line("GNVTG,90,T,,M,,N,37.04,K,A"), 9); math.Abs(s.SpeedKN-20) > 1e-9 {
		t.Errorf("km/h alone: %+v", s)
	}
	for _, bad := range []string{"$GPRMC,120000,A*00", "GPRMC", "$*00", line("GPRMC,120000,A,,,,,fast,,,,"),
		strings.Repeat("$", 300), line("IIRPM,E,1,99999,,A"), line("IIRPM,E"), "$GPVTG,1,T,,M,20.0,N,37,K,A*ZZ"} {
		n := r.Count.Broken
		if _, used := r.Take(bad, 10); used || r.Count.Broken != n+1 {
			t.Errorf("%q is not told as broken", bad)
		}
	}
	for _, void := range []string{line("GPRMC,120000,V,,,,,,,251126,,"), line("GPVTG,,T,,M,,N,,K,N"),
		line("IIRPM,E,1,3000,,V")} {
		n := r.Count.Void
		if _, used := r.Take(void, 11); used || r.Count.Void != n+1 {
			t.Errorf("%q is not told as void", void)
		}
	}
	before := r.now.RPM
	if s, used := r.Take(line("IIRPM,S,1,2000,,A"), 12); !used || s.RPM != before || s.Shaft != 2000 {
		t.Errorf("a shaft's turns were taken for the engine's: %+v", s)
	}
}

// A minute of noise, then a steady minute whose means and spreads hold.
func TestSteadyHoldsItsSpread(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 8))
	in, all := 0, 0
	for range 200 {
		var list []Sample
		for i := range 60 {
			list = append(list, Sample{At: float64(i), RPM: 1000 + 60*float64(i), SpeedKN: 5 + 0.3*float64(i),
				HasRPM: true, HasKN: true})
		}
		for i := range 50 {
			list = append(list, Sample{At: 60 + float64(i), RPM: 4600 + 15*r.NormFloat64(),
				SpeedKN: 23 + 0.15*r.NormFloat64(), HasRPM: true, HasKN: true})
		}
		s, ok := FindSteady(list)
		if !ok || s.Seconds < 20 || s.From < 55 {
			t.Fatalf("%+v %v", s, ok)
		}
		all++
		if math.Abs(s.SpeedKN-23) < 2*s.SureKN && math.Abs(s.RPM-4600) < 2*s.RPMSure {
			in++
		}
	}
	if in < all*90/100 {
		t.Errorf("%d of %d within two standard deviations", in, all)
	}
	if _, ok := FindSteady([]Sample{{At: 0}, {At: 100}}); ok {
		t.Error("nothing is steady")
	}
}

func TestRecordedFile(t *testing.T) {
	var b strings.Builder
	for i := range 60 {
		b.WriteString(line(fmt.Sprintf("GPRMC,2359%02d,A,6200.0,N,00700.0,W,%.1f,90.0,251126,,", i,
			20+0.1*float64(i%3))) + "\r\n")
		b.WriteString(line(fmt.Sprintf("IIRPM,E,1,%d,,A", 4400+10*(i%2))) + "\r\n")
	}
	b.WriteString("$GPRMC,garbage\r\n\r\n")
	x, err := ReadRecorded(b.String())
	if err != nil || x.Steady == nil || x.Count.Broken != 1 || x.Count.Read != 120 ||
		math.Abs(x.Steady.SpeedKN-20.1) > 0.05 || math.Abs(x.Steady.RPM-4405) > 3 {
		t.Errorf("%+v %v", x, err)
	}
	if _, err := ReadRecorded("nothing of the kind"); err == nil {
		t.Error("a file without sentences was taken")
	}
}

func FuzzReader(f *testing.F) {
	f.Add(line("GPRMC,120000,A,6200.0,N,00700.0,W,21.4,90.0,251126,,"))
	f.Add(line("IIRPM,E,1,4200,,A"))
	f.Fuzz(func(t *testing.T, text string) {
		r := &Reader{}
		for i, l := range strings.Split(text, "\n") {
			if s, _ := r.Take(l, float64(i)); math.IsNaN(s.RPM) || math.IsNaN(s.SpeedKN) || s.SpeedKN < 0 || s.RPM < 0 {
				t.Errorf("%q gives %+v", l, s)
			}
		}
		if x, err := ReadRecorded(text); err == nil && len(x.Samples) == 0 {
			t.Error("read, and nothing in it")
		}
	})
}

func BenchmarkRecorded(b *testing.B) {
	var s strings.Builder
	for i := range MaxLines / 2 {
		s.WriteString(line(fmt.Sprintf("GPRMC,%02d%02d%02d,A,6200.0,N,00700.0,W,%.1f,90.0,251126,,", i/3600%24,
			i/60%60, i%60, 20+float64(i%7)/10)) + "\n")
		s.WriteString(line(fmt.Sprintf("IIRPM,E,1,%d,,A", 4400+i%40)) + "\n")
	}
	text := s.String()
	for b.Loop() {
		if _, err := ReadRecorded(text); err != nil {
			b.Fatal(err)
		}
	}
}
