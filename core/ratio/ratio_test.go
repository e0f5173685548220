package ratio

import (
	"errors"
	"math"
	"math/big"
	"testing"
)

func TestLabelRoundsTheExactFraction(t *testing.T) {
	cases := []struct {
		num, den int64
		label    string
		hundred  int64
	}{
		{47, 9, "5.22", 522}, {41, 10, "4.10", 410}, {37, 9, "4.11", 411},
		{43, 8, "5.38", 538}, // 5.375: half goes up
		{39, 11, "3.55", 355}, {22, 5, "4.40", 440}, {1, 1, "1.00", 100},
		{-3, 1, "-3.00", -300}, {46, 12, "3.83", 383}, {201, 200, "1.01", 101},
	}
	for _, c := range cases {
		r := Must(c.num, c.den)
		if r.Label() != c.label || r.Hundredths() != c.hundred {
			t.Errorf("%d/%d: label %s (%d), want %s (%d)", c.num, c.den, r.Label(), r.Hundredths(), c.label, c.hundred)
		}
	}
}

func TestExactProducts(t *testing.T) {
	bevel, planetary := Must(8, 5), Must(11, 4)
	got, err := bevel.Mul(planetary)
	if err != nil || got != Must(22, 5) {
		t.Fatalf("1.6 × 2.75 = %v, %v; want 22/5", got, err)
	}
	if got := Must(-3, 2).Inverse(); got != Must(-2, 3) {
		t.Errorf("inverse of -3/2 is %v", got)
	}
	if !Must(-3, 2).Reverses() || Must(3, 2).Reverses() {
		t.Error("the sign must tell the direction")
	}
	if Must(37, 9).Cmp(Must(41, 10)) != 1 {
		t.Error("37/9 is above 41/10")
	}
	if got := Must(47, 9).String(); got != "47/9" {
		t.Errorf("47/9 prints as %s", got)
	}
}

func TestRefusals(t *testing.T) {
	if _, err := New(47, 0); !errors.Is(err, ErrZero) {
		t.Errorf("zero pinion: %v", err)
	}
	if _, err := (Pair{Driven: 47}).Ratio(); !errors.Is(err, ErrZero) {
		t.Errorf("pair without pinion: %v", err)
	}
	big := Must(math.MaxInt64, 1)
	if _, err := big.Mul(Must(3, 1)); !errors.Is(err, ErrRange) {
		t.Errorf("overflow: %v", err)
	}
	if got, err := big.Mul(Must(1, math.MaxInt64)); err != nil || got != One {
		t.Errorf("cross-reduction: %v, %v", got, err)
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

func FuzzMulAgainstBigRat(f *testing.F) {
	f.Add(int64(47), int64(9), int64(-8), int64(5))
	f.Add(int64(math.MaxInt64), int64(3), int64(3), int64(math.MaxInt64))
	f.Fuzz(func(t *testing.T, a, b, c, d int64) {
		if a == math.MinInt64 || b == math.MinInt64 || c == math.MinInt64 || d == math.MinInt64 {
			t.Skip()
		}
		r, err1 := New(a, b)
		s, err2 := New(c, d)
		if err1 != nil || err2 != nil {
			t.Skip()
		}
		want := new(big.Rat).Mul(r.Rat(), s.Rat())
		got, err := r.Mul(s)
		if err != nil {
			if want.Num().IsInt64() && want.Denom().IsInt64() {
				t.Fatalf("%v × %v refused, but %v fits", r, s, want)
			}
			return
		}
		if got.Rat().Cmp(want) != 0 {
			t.Fatalf("%v × %v = %v, want %v", r, s, got, want)
		}
	})
}
