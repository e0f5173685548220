package ratio

import (
	"fmt"
	"math"
	"math/big"
	"testing"

	"zorvel/core/exact"
)

// Every pair that could be in an axle: label, exact value, inverse, order.
func TestEveryPair(t *testing.T) {
	n := 0
	var last exact.Number
	for ring := int64(20); ring <= 72; ring++ {
		for pinion := int64(5); pinion <= 20; pinion++ {
			r, err := Pair{Driven: int(ring), Driver: int(pinion)}.Ratio()
			if err != nil {
				t.Fatal(err)
			}
			n++
			if r.Rat().Cmp(big.NewRat(ring, pinion)) != 0 {
				t.Errorf("%d:%d is %v", ring, pinion, r)
			}
			// Two decimals, half up, in whole numbers: no float decides.
			if want := (2*100*ring + pinion) / (2 * pinion); r.Hundredths() != want {
				t.Errorf("%d:%d is %d hundredths, want %d", ring, pinion, r.Hundredths(), want)
			}
			if want := fmt.Sprintf("%d.%02d", r.Hundredths()/100, r.Hundredths()%100); r.Label() != want {
				t.Errorf("%d:%d is labeled %s, want %s", ring, pinion, r.Label(), want)
			}
			if back := r.Mul(r.Inv()); !back.Equal(exact.Int(1)) {
				t.Errorf("%d:%d times its inverse is %v", ring, pinion, back)
			}
			if math.Abs(r.Float()-float64(ring)/float64(pinion)) > 1e-15*r.Float() {
				t.Errorf("%d:%d is %v", ring, pinion, r.Float())
			}
			if !last.IsZero() {
				if got, want := r.Cmp(last), r.Rat().Cmp(last.Rat()); got != want {
					t.Errorf("%v against %v is %d, want %d", r, last, got, want)
				}
			}
			last = r
		}
	}
	if n < 800 {
		t.Errorf("only %d pairs", n)
	}
}

// Hunting is what the turns say: a pair hunts if every tooth meets every
// other, which takes as many turns of the ring as the pinion has teeth.
func TestHuntingByTurningIt(t *testing.T) {
	kinds := map[Hunting]int{}
	for ring := 20; ring <= 60; ring++ {
		for pinion := 6; pinion <= 17; pinion++ {
			met := map[[2]int]bool{}
			for tooth := range ring * pinion {
				met[[2]int{tooth % ring, tooth % pinion}] = true
			}
			all := len(met) == ring*pinion
			h := Pair{Driven: ring, Driver: pinion}.Hunting()
			kinds[h]++
			if hunts := h == HuntingTooth; hunts != all {
				t.Errorf("%d:%d meets %d of %d and is called %s", ring, pinion, len(met), ring*pinion, h)
			}
			if h == HuntingTooth && h.TimingMarks() {
				t.Errorf("%d:%d hunts and is to be timed", ring, pinion)
			}
		}
	}
	if len(kinds) < 3 {
		t.Errorf("only %v", kinds)
	}
}
