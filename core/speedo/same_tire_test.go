package speedo

import (
	"math"
	"strings"
	"testing"

	"zorvel/core/tire"
)

// On the same tire the new gears follow from the axles alone: whatever tire is told, the
// errors are the same.
func TestSameTireCancels(t *testing.T) {
	for _, axles := range [][2]string{{"3.73", "4.10"}, {"41/11", "41/10"}, {"4.56", "3.31"}, {"2.73", "3.08"}} {
		q := Request{Axle: fig(axles[1]), Before: &Before{Axle: fig(axles[0])},
			Mechanical: &Mechanical{FittedDrive: 8, FittedTeeth: 20}}
		bare, err := Work(q)
		if err != nil {
			t.Fatal(err)
		}
		if bare.Tire != nil || bare.TakeOff != nil {
			t.Errorf("%v: a tire that nobody told is shown", axles)
		}
		for _, rolling := range []string{"1500", "2345.6", "3300"} {
			q.Tire = tire.Tire{RollingMM: fig(rolling)}
			with, err := Work(q)
			if err != nil {
				t.Fatal(err)
			}
			if len(with.Mechanical.Cells) != len(bare.Mechanical.Cells) {
				t.Fatalf("%v: %d and %d pairs", axles, len(with.Mechanical.Cells), len(bare.Mechanical.Cells))
			}
			for i, c := range with.Mechanical.Cells {
				if !c.Error.Equal(bare.Mechanical.Cells[i].Error) {
					t.Errorf("%v on %s mm: %d and %d teeth are %v off, without a tire %v", axles, rolling, c.Drive, c.Driven,
						c.Percent, bare.Mechanical.Cells[i].Percent)
				}
			}
		}
	}
}

// By hand: 20 × 4.10 ÷ 3.73 = 21.98 teeth, and with 41/10 and 41/11 just 22. Labels are
// rounded, so the 22 comes first both times; by teeth it is true.
func TestLabelsAreRounded(t *testing.T) {
	for before, words := range map[string]string{"3.73": "true, as far as the ratios are known", "41/11": "true"} {
		a, err := Work(Request{Axle: fig("4.10"), Before: &Before{Axle: fig(before)},
			Mechanical: &Mechanical{FittedDrive: 8, FittedTeeth: 20}})
		if err != nil {
			t.Fatal(err)
		}
		c := a.Mechanical.Picks[0].Cell
		if c.Drive != 8 || c.Driven != 22 || c.Words != words {
			t.Errorf("before %s: %d and %d, %s", before, c.Drive, c.Driven, c.Words)
		}
		if !strings.Contains(strings.Join(a.Mechanical.Notes, " "), "The tire stays") {
			t.Errorf("before %s: %q", before, a.Mechanical.Notes)
		}
	}
	for text, want := range map[string]float64{"3.73": 0.5 / 3.73, "4.1": 0, "41/11": 0, "3.55": 0.5 / 3.55, "3.5": 0, "3.7273": 0} {
		if got := rounded(fig(text).Number); math.Abs(got-want) > 1e-12 {
			t.Errorf("%s is rounded by %v, want %v", text, got, want)
		}
	}
}
