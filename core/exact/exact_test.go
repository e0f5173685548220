package exact

import (
	"encoding/json"
	"math"
	"math/big"
	"math/rand/v2"
	"testing"
)

func TestParseAndPrint(t *testing.T) {
	for in, want := range map[string]string{
		"41/10": "41/10", "4.10": "41/10", "-3.5": "-7/2", " 7 ": "7", "0": "0", "4.1/0.5": "41/5", "+2": "2", "6/4": "3/2",
	} {
		if got, err := Parse(in); err != nil || got.String() != want {
			t.Errorf("Parse(%q) = %v, %v; want %s", in, got, err, want)
		}
	}
	for _, in := range []string{"", "abc", "1/0", "1e9", "0x10", "1_000", "--1", "1//2", "NaN", "Inf"} {
		if got, err := Parse(in); err == nil {
			t.Errorf("Parse(%q) = %v, want an error", in, got)
		}
	}
	if _, err := Of(math.Inf(1)); err == nil {
		t.Error("infinity was taken for a number")
	}
	if x, err := Of(0.1); err != nil || x.String() != "1/10" {
		t.Errorf("Of(0.1) = %v, %v", x, err)
	}
	for _, c := range []struct {
		n      Number
		places int
		want   string
	}{{New(10, 41), 4, "0.2439"}, {Int(2), 3, "2"}, {New(1, 2), 3, "0.5"}, {New(-1, 100000), 2, "0"}, {Number{}, 2, "0"}} {
		if got := c.n.Short(c.places); got != c.want {
			t.Errorf("Short(%v, %d) = %q, want %q", c.n, c.places, got, c.want)
		}
	}
}

func TestJSON(t *testing.T) {
	b, err := json.Marshal(New(-47, 9))
	if want := `{"num":-47,"den":9,"decimal":-5.222222,"label":"-5.22"}`; err != nil || string(b) != want {
		t.Errorf("%s, %v", b, err)
	}
	big := Int(math.MaxInt64).Mul(Int(math.MaxInt64)).Div(Int(3))
	b, err = json.Marshal(big)
	var back Number
	if err != nil || json.Unmarshal(b, &back) != nil || !back.Equal(big) {
		t.Errorf("%s came back as %v, %v", b, back, err)
	}
	for text, want := range map[string]string{`"41/10"`: "41/10", `4.1`: "41/10", `-3`: "-3", `{"num":8,"den":2}`: "4"} {
		if err := json.Unmarshal([]byte(text), &back); err != nil || back.String() != want {
			t.Errorf("%s was read as %v, %v; want %s", text, back, err, want)
		}
	}
	for _, bad := range []string{`{"num":1,"den":0}`, `{"num":1}`, `"x"`, `1e9`, `null`, `true`} {
		if err := json.Unmarshal([]byte(bad), &back); err == nil {
			t.Errorf("%s was taken", bad)
		}
	}
}

// interesting draws numbers at and around the edges of 64 bits.
func interesting(r *rand.Rand) int64 {
	switch r.IntN(4) {
	case 0:
		return []int64{0, 1, -1, math.MaxInt64, math.MinInt64, math.MaxInt64 - 1, math.MinInt64 + 1}[r.IntN(7)]
	case 1:
		return int64(r.Uint64())
	default:
		return int64(r.IntN(200) - 100)
	}
}

func TestAgainstBigRat(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 7))
	for range 20000 {
		an, ad, bn, bd := interesting(r), interesting(r), interesting(r), interesting(r)
		if ad == 0 || bd == 0 {
			continue
		}
		check(t, an, ad, bn, bd)
	}
}

func check(t *testing.T, an, ad, bn, bd int64) {
	t.Helper()
	a, b := New(an, ad), New(bn, bd)
	x, y := big.NewRat(an, ad), big.NewRat(bn, bd)
	same := func(what string, got Number, want *big.Rat) {
		t.Helper()
		if got.Rat().Cmp(want) != 0 {
			t.Fatalf("%d/%d %s %d/%d = %v, want %v", an, ad, what, bn, bd, got, want)
		}
	}
	same("+", a.Add(b), new(big.Rat).Add(x, y))
	same("-", a.Sub(b), new(big.Rat).Sub(x, y))
	same("*", a.Mul(b), new(big.Rat).Mul(x, y))
	if bn != 0 {
		same("/", a.Div(b), new(big.Rat).Quo(x, y))
	}
	same("neg", a.Neg(), new(big.Rat).Neg(x))
	same("abs", a.Abs(), new(big.Rat).Abs(x))
	if a.Cmp(b) != x.Cmp(y) || a.Equal(b) != (x.Cmp(y) == 0) || a.Sign() != x.Sign() || a.IsZero() != (an == 0) {
		t.Fatalf("comparing %v with %v", a, b)
	}
	if f, _ := x.Float64(); math.Abs(a.Float()-f) > 1e-12*math.Abs(f) {
		t.Fatalf("Float of %v = %v, want %v", a, a.Float(), f)
	}
}

func FuzzAgainstBigRat(f *testing.F) {
	f.Add(int64(47), int64(9), int64(-1), int64(3))
	f.Fuzz(func(t *testing.T, an, ad, bn, bd int64) {
		if ad != 0 && bd != 0 {
			check(t, an, ad, bn, bd)
		}
	})
}

func TestDivisionByZeroPanics(t *testing.T) {
	for name, f := range map[string]func(){
		"New": func() { New(1, 0) },
		"Div": func() { Int(1).Div(Int(0)) },
	} {
		func() {
			defer func() {
				if recover() == nil {
					t.Errorf("%s by zero went through", name)
				}
			}()
			f()
		}()
	}
}

func BenchmarkAddSmall(b *testing.B) {
	x, y := New(47, 9), New(10, 41)
	for b.Loop() {
		x.Add(y)
	}
}

func BenchmarkAddBigRat(b *testing.B) {
	x, y := big.NewRat(47, 9), big.NewRat(10, 41)
	for b.Loop() {
		new(big.Rat).Add(x, y)
	}
}

// The quick way of printing is the same as math/big's, at the edges too.
func TestDecimalAgainstBig(t *testing.T) {
	nums := []int64{0, 1, -1, 2, 3, 5, 7, 999, -999, 1005, 123456789, math.MaxInt64, -math.MaxInt64, math.MaxInt64 - 1}
	dens := []int64{1, 2, 3, 8, 9, 200, 1000, 999_999_937, math.MaxInt64, math.MaxInt64 - 2}
	for _, n := range nums {
		for _, d := range dens {
			a := New(n, d)
			for places := 0; places <= 10; places++ {
				if got, want := a.Decimal(places), a.Rat().FloatString(places); got != want {
					t.Fatalf("%d/%d with %d places: %s, want %s", n, d, places, got, want)
				}
			}
			if got, want := a.String(), a.Rat().RatString(); got != want {
				t.Fatalf("%s, want %s", got, want)
			}
			b, err := a.MarshalJSON()
			var back Number
			if err != nil || back.UnmarshalJSON(b) != nil || !back.Equal(a) {
				t.Fatalf("%s does not come back: %v", b, err)
			}
		}
	}
}

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
		r := New(c.num, c.den)
		if r.Label() != c.label || r.Hundredths() != c.hundred {
			t.Errorf("%d/%d: label %s (%d), want %s (%d)", c.num, c.den, r.Label(), r.Hundredths(), c.label, c.hundred)
		}
	}
}
