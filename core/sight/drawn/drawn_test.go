package drawn

import (
	"fmt"
	"math"
	"testing"
)

// A gear has as many teeth as it is said to have: gaps are counted around it.
func TestTeethAreThere(t *testing.T) {
	for _, kind := range []string{Spur, Helical, Sprocket, Internal} {
		for _, teeth := range []int{11, 24, 51} {
			w := newWorld(Scene{Kind: kind, Teeth: teeth, Width: 10, Height: 10, Near: 5, Size: 0.8,
				Seed: uint64(teeth)})
			inside := func(k int) bool {
				s, c := math.Sincos(2 * math.Pi * float64(k) / 20000)
				return w.thing(vec{0.92 * c, 0.92 * s, w.thick - 0.01}, 0.92) < 0
			}
			edges := 0
			for k := range 20000 {
				if inside(k) != inside(k+1) {
					edges++
				}
			}
			if edges != 2*teeth {
				t.Errorf("%s with %d teeth has %d edges", kind, teeth, edges)
			}
		}
	}
}

// The same scene gives the same picture, another seed another one; nothing is outside
// the range of gray, and no point is left out.
func TestDrawIsRepeatable(t *testing.T) {
	for _, level := range Levels {
		s := Some(level, 7)
		s.Width, s.Height = 80, 60
		a, b := Draw(s), Draw(s)
		s.Seed++
		c := Draw(s)
		if len(a.Gray) != 80*60 || string(a.Gray) != string(b.Gray) || string(a.Gray) == string(c.Gray) {
			t.Errorf("%s: not repeatable by its seed", level)
		}
	}
}

// The middle is where it is said to be: a hub's hole is dark there.
func TestMiddle(t *testing.T) {
	s := Scene{Kind: Sprocket, Teeth: 15, Width: 200, Height: 200, Near: 6, Size: 0.7, Right: 0.2, Down: -0.1,
		Raking: 1, Shade: 0.4, Seed: 4}
	p := Draw(s)
	if math.Abs(p.X-120) > 1 || math.Abs(p.Y-90) > 1 {
		t.Errorf("middle at %.1f, %.1f", p.X, p.Y)
	}
}

func TestTry(t *testing.T) {
	if testing.Short() {
		t.Skip("draws whole pictures")
	}
	done := 0
	outcomes, bands := Try(4, 1, func() { done++ })
	total := 0
	for _, b := range bands {
		total += b.Counts
	}
	if done != 4 || len(outcomes) != 4 || total > 4 {
		t.Errorf("%d done, %+v, %+v", done, outcomes, bands)
	}
	for _, o := range outcomes {
		if o.Pictures != 1 || o.Wrong > o.Sure {
			t.Errorf("%+v", o)
		}
	}
}

func ExampleDraw() {
	s := Some(Easy, 1)
	s.Kind, s.Teeth, s.Width, s.Height = Spur, 32, 120, 90
	p := Draw(s)
	fmt.Println(len(p.Gray) == p.Width*p.Height)
	// Output: true
}
