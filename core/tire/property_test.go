package tire

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"zorvel/core/exact"
)

// However a marking is written, it is the same tire: case, spaces, × and
// commas don't matter, prefixes and suffixes don't change its size.
func TestWaysOfWriting(t *testing.T) {
	change := map[string]func(string) string{
		"small":            strings.ToLower,
		"capitals":         strings.ToUpper,
		"a comma":          func(s string) string { return strings.ReplaceAll(s, ".", ",") },
		"a times sign":     func(s string) string { return strings.ReplaceAll(s, "x", "×") },
		"a star":           func(s string) string { return strings.ReplaceAll(s, "x", "*") },
		"spaces around":    func(s string) string { return "  " + s + "\t" },
		"spaces at slash":  func(s string) string { return strings.ReplaceAll(s, "/", " / ") },
		"a space before R": func(s string) string { return strings.ReplaceAll(s, "R", " R ") },
	}
	for _, s := range []string{"225/75R16", "P205/70R15", "LT245/75R16", "215/75R16C", "31x10.50R15", "33x12.50R15LT", "26.0/10.0-15", "245/645R18", "7.50-16", "195R15C", "11R22.5", "12.5/80-18"} {
		want, err := Parse(s)
		if err != nil {
			t.Errorf("%q: %v", s, err)
			continue
		}
		for how, f := range change {
			got, err := Parse(f(s))
			if err != nil {
				t.Errorf("%q with %s (%q): %v", s, how, f(s), err)
				continue
			}
			if !got.DiameterMM.Equal(want.DiameterMM) || !got.WidthMM.Equal(want.WidthMM) || got.System != want.System || got.Construction != want.Construction {
				t.Errorf("%q with %s reads %+v", s, how, got)
			}
		}
	}
}

// Every metric size from the sum that is on the sidewall: rim + 2 · width · aspect.
func TestEveryMetricSize(t *testing.T) {
	n := 0
	for width := 125; width <= 355; width += 10 {
		for aspect := 25; aspect <= 85; aspect += 5 {
			for rim := 12; rim <= 24; rim++ {
				s := fmt.Sprintf("%d/%dR%d", width, aspect, rim)
				m, err := Parse(s)
				if err != nil {
					t.Errorf("%s: %v", s, err)
					continue
				}
				n++
				// In hundredths of a millimeter all of it is whole.
				want := exact.New(int64(rim*2540+2*width*aspect), 100)
				if !m.DiameterMM.Equal(want) {
					t.Errorf("%s is %s mm across, want %s", s, m.DiameterMM, want)
				}
				a, err := Work(Tire{Marking: s})
				if err != nil {
					t.Fatal(err)
				}
				if math.Abs(a.RollingMM.Float()-want.Float()*RadialFactor) > 0.001 {
					t.Errorf("%s rolls %v", s, a.RollingMM)
				}
			}
		}
	}
	if n < 3000 {
		t.Errorf("only %d sizes", n)
	}
}

// Comparing is its own inverse, and says what a speedometer then shows.
func TestCompareBothWays(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 7))
	for range 200 {
		x, y := 1500+r.IntN(2000), 1500+r.IntN(2000)
		a, err := Work(Tire{RollingMM: fig(fmt.Sprint(x))})
		if err != nil {
			t.Fatal(err)
		}
		b, err := Work(Tire{RollingMM: fig(fmt.Sprint(y))})
		if err != nil {
			t.Fatal(err)
		}
		there, back := Compare(a, b), Compare(b, a)
		if !there.Rolling.Mul(back.Rolling).Equal(exact.Int(1)) {
			t.Errorf("%d and %d: %v and %v", x, y, there.Rolling, back.Rolling)
		}
		if want := (float64(y)/float64(x) - 1) * 100; math.Abs(there.Percent-want) > 1e-3 {
			t.Errorf("%d to %d is %v %%, want %v", x, y, there.Percent, want)
		}
		for _, s := range there.TrueAt {
			if want := s.Shown * float64(y) / float64(x); math.Abs(s.True-want) > 0.006 {
				t.Errorf("%d to %d: %v shown is %v, want %v", x, y, s.Shown, s.True, want)
			}
		}
		larger := y > x
		text := strings.Join(there.Sentences, " ")
		if x != y && (strings.Contains(text, "taller gear") != larger || strings.Contains(text, "reads low") != larger) && math.Abs(there.Percent) > 0.5 {
			t.Errorf("%d to %d: %s", x, y, text)
		}
	}
}

// The best source that is known is taken, the spread is its own, and a wish
// for another is followed.
func TestSourcesInOrder(t *testing.T) {
	full := Tire{Marking: "225/75R16", RolloutMM: fig("6801"), RolloutTurns: 3, RevsPerKM: fig("441")}
	for _, c := range []struct {
		name string
		make func(*Tire)
		want Source
	}{
		{"all", func(*Tire) {}, Rollout},
		{"no rollout", func(t *Tire) { t.RolloutMM, t.RolloutTurns = exact.Figure{}, 0 }, Revs},
		{"marking alone", func(t *Tire) { t.RolloutMM, t.RolloutTurns, t.RevsPerKM = exact.Figure{}, 0, exact.Figure{} }, Factor},
		{"a wish", func(t *Tire) { t.Use = Geometric }, Geometric},
	} {
		q := full
		c.make(&q)
		a, err := Work(q)
		if err != nil {
			t.Fatalf("%s: %v", c.name, err)
		}
		if a.Source != c.want {
			t.Errorf("%s: %s, want %s", c.name, a.Source, c.want)
		}
		chosen := 0
		least, most := math.Inf(1), 0.0
		for _, k := range a.Known {
			if k.Chosen {
				chosen++
				if !k.MM.Equal(a.RollingMM) || k.Spread != a.Spread {
					t.Errorf("%s: chosen %+v, answer %v ± %v", c.name, k, a.RollingMM, a.Spread)
				}
			}
			least, most = math.Min(least, k.MM.Float()), math.Max(most, k.MM.Float())
		}
		if chosen != 1 {
			t.Errorf("%s: %d sources are chosen", c.name, chosen)
		}
		if want := (most - least) / a.RollingMM.Float() * 100; math.Abs(a.Apart-want) > 0.02 {
			t.Errorf("%s: %v %% apart, want %v", c.name, a.Apart, want)
		}
	}
	// π · D is three percent above 3.05 · D: the two schools.
	a, err := Work(Tire{Marking: "225/75R16"})
	if err != nil {
		t.Fatal(err)
	}
	if math.Abs(a.Apart-(math.Pi/3.05-1)*100) > 0.006 {
		t.Errorf("the schools are %v %% apart", a.Apart)
	}
}

// What follows a size: load, speed, plies and letters in the ways that they
// are written, behind every kind of size.
func TestWhatFollowsASize(t *testing.T) {
	sizes := map[string]string{"225/75R16": "743.9", "31x10.50R15": "787.4", "7.50-16": "806.45", "11R22.5": "1052.068", "195R15": "693", "12.5/80-18": "965.2"}
	for _, c := range []struct{ tail, load, speed string }{
		{"", "", ""},
		{" 116S", "116", "S"},
		{" 116 S", "116", "S"},
		{" 118/116R", "118/116", "R"},
		{" (116S)", "116", "S"},
		{" 8PR", "8 PR", ""},
		{" 10 PR", "10 PR", ""},
		{" 16PLY", "16 PR", ""},
		{" M+S", "", ""},
		{" 116S M+S", "116", "S"},
		{" 116S XL", "116", "S"},
		{" TL", "", ""},
		{" TUBELESS", "", ""},
		{" 3PMSF", "", ""},
		{" 121/118Q TL", "121/118", "Q"},
	} {
		for size, across := range sizes {
			m, err := Parse(size + c.tail)
			if err != nil {
				t.Errorf("%q: %v", size+c.tail, err)
				continue
			}
			if !m.DiameterMM.Equal(mm(across)) || m.Load != c.load || m.Speed != c.speed {
				t.Errorf("%q is %s across, load %q, speed %q; want %s, %q, %q", size+c.tail, m.DiameterMM, m.Load, m.Speed, across, c.load, c.speed)
			}
			// Written small, and with more space, it is the same.
			again, err := Parse(strings.ToLower(strings.ReplaceAll(size+c.tail, " ", "   ")))
			if err != nil || !again.DiameterMM.Equal(m.DiameterMM) || again.Load != m.Load || again.Speed != m.Speed {
				t.Errorf("%q written small: %+v, %v", size+c.tail, again, err)
			}
		}
	}
	for _, nonsense := range []string{" S116S", " 9999", " PR", " ?", " and more", " 116SS", " /Z"} {
		for size := range sizes {
			if m, err := Parse(size + nonsense); err == nil && nonsense != " PR" {
				t.Errorf("%q is taken for %+v", size+nonsense, m)
			}
		}
	}
}
