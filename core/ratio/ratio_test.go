package ratio

import (
	"errors"
	"testing"
)

func TestRefusals(t *testing.T) {
	for _, p := range []Pair{{}, {Driven: 47}, {Driver: 9}, {-47, 9}} {
		if _, err := p.Ratio(); !errors.Is(err, ErrZero) {
			t.Errorf("%+v: %v", p, err)
		}
	}
}

func TestHunting(t *testing.T) {
	cases := []struct {
		driven, driver int
		want           Hunting
		marks          bool
	}{
		{47, 9, HuntingTooth, false}, {41, 10, HuntingTooth, false},
		{46, 12, PartialHunting, true}, {40, 10, NonHunting, true}, {65, 14, HuntingTooth, false},
	}
	for _, c := range cases {
		got := Pair{c.driven, c.driver}.Hunting()
		if got != c.want || got.TimingMarks() != c.marks {
			t.Errorf("%d/%d: %s, marks %v", c.driven, c.driver, got, got.TimingMarks())
		}
	}
}
