package exact

import (
	"encoding/json"
	"math"
	"math/big"
	"math/rand/v2"
	"strconv"
	"strings"
	"testing"
)

// some draws numbers of every size: small, at the edge of 64 bits, beyond it.
func some(r *rand.Rand) Number {
	small := func() int64 { return int64(r.IntN(200)) - 100 }
	switch r.IntN(5) {
	case 0:
		return Int(small())
	case 1:
		return New(small(), int64(r.IntN(99)+1))
	case 2:
		return New(math.MaxInt64-int64(r.IntN(50)), int64(r.IntN(9)+1))
	case 3:
		return New(-math.MaxInt64+int64(r.IntN(50)), math.MaxInt64-int64(r.IntN(50)))
	}
	a := New(math.MaxInt64-int64(r.IntN(50)), int64(r.IntN(9)+1))
	return a.Mul(a).Mul(New(small()*2+1, 7))
}

// Every operation against math/big, small and far beyond 64 bits.
func TestOperationsAgainstBigRat(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 31))
	for range 20_000 {
		a, b := some(r), some(r)
		x, y := a.Rat(), b.Rat()
		is := func(what string, got Number, want *big.Rat) {
			t.Helper()
			if got.Rat().Cmp(want) != 0 {
				t.Errorf("%s of %s and %s is %s, want %s", what, a, b, got, want)
			}
		}
		is("sum", a.Add(b), new(big.Rat).Add(x, y))
		is("difference", a.Sub(b), new(big.Rat).Sub(x, y))
		is("product", a.Mul(b), new(big.Rat).Mul(x, y))
		is("negative", a.Neg(), new(big.Rat).Neg(x))
		is("size", a.Abs(), new(big.Rat).Abs(x))
		if !b.IsZero() {
			is("quotient", a.Div(b), new(big.Rat).Quo(x, y))
			is("inverse", b.Inv(), new(big.Rat).Inv(y))
		}
		if got := a.Cmp(b); got != x.Cmp(y) {
			t.Errorf("%s against %s is %d, want %d", a, b, got, x.Cmp(y))
		}
		if a.Equal(b) != (x.Cmp(y) == 0) || a.Sign() != x.Sign() || a.IsZero() != (x.Sign() == 0) {
			t.Errorf("%s and %s: equal %v, sign %d, zero %v", a, b, a.Equal(b), a.Sign(), a.IsZero())
		}
		if want, _ := x.Float64(); math.Abs(a.Float()-want) > 1e-14*math.Abs(want) {
			t.Errorf("%s as a float is %v, want %v", a, a.Float(), want)
		}
	}
}

// The laws of a field, where no big.Rat says what is right.
func TestLaws(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 55))
	for range 5000 {
		a, b, c := some(r), some(r), some(r)
		for name, pair := range map[string][2]Number{
			"a + b = b + a":             {a.Add(b), b.Add(a)},
			"a b = b a":                 {a.Mul(b), b.Mul(a)},
			"(a + b) + c = a + (b + c)": {a.Add(b).Add(c), a.Add(b.Add(c))},
			"(a b) c = a (b c)":         {a.Mul(b).Mul(c), a.Mul(b.Mul(c))},
			"a (b + c) = a b + a c":     {a.Mul(b.Add(c)), a.Mul(b).Add(a.Mul(c))},
			"a − a = 0":                 {a.Sub(a), Number{}},
			"−(−a) = a":                 {a.Neg().Neg(), a},
		} {
			if !pair[0].Equal(pair[1]) {
				t.Errorf("%s fails for %s, %s, %s", name, a, b, c)
			}
		}
		if !a.IsZero() && !a.Div(a).Equal(Int(1)) {
			t.Errorf("%s ÷ itself is %s", a, a.Div(a))
		}
	}
}

// What is written is read the same, as text and as JSON.
func TestWrittenAndRead(t *testing.T) {
	r := rand.New(rand.NewPCG(77, 2))
	for range 5000 {
		a := some(r)
		back, err := Parse(a.String())
		if err != nil && len(a.String()) < 60 || err == nil && !back.Equal(a) {
			t.Errorf("%s is read as %s, %v", a, back, err)
		}
		b, err := json.Marshal(a)
		if err != nil {
			t.Fatal(err)
		}
		var again Number
		if err := json.Unmarshal(b, &again); err != nil || !again.Equal(a) {
			t.Errorf("%s comes back as %s, %v", b, again, err)
		}
	}
}

// Decimals are rounded once, half away from zero, and Short only drops zeros.
func TestDecimals(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 4))
	for range 5000 {
		a, places := some(r), r.IntN(7)
		want := a.Rat().FloatString(places)
		got := a.Decimal(places)
		if got != want {
			t.Errorf("%s to %d places is %q, want %q", a, places, got, want)
		}
		short := a.Short(places)
		if strings.Contains(short, ".") && (strings.HasSuffix(short, "0") || strings.HasSuffix(short, ".")) {
			t.Errorf("%s in short is %q", a, short)
		}
		x, ok := new(big.Rat).SetString(short)
		y, ok2 := new(big.Rat).SetString(want)
		if !ok || !ok2 || x.Cmp(y) != 0 {
			t.Errorf("%s in short is %q, %q in full", a, short, want)
		}
	}
}

// A float's own decimal is taken, not its binary remainder.
func TestOfTakesTheDecimal(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 14))
	for range 2000 {
		n, d := int64(r.IntN(2_000_000)-1_000_000), int64(math.Pow10(r.IntN(5)))
		f := float64(n) / float64(d)
		got, err := Of(f)
		if err != nil || !got.Equal(New(n, d)) {
			t.Errorf("%v is %s, %v; want %d/%d", f, got, err, n, d)
		}
	}
	for _, f := range []float64{math.NaN(), math.Inf(1), math.Inf(-1)} {
		if n, err := Of(f); err == nil {
			t.Errorf("%v is taken for %s", f, n)
		}
	}
}

// The short way reads every float as its shortest decimal, as the long way does.
func TestOfIsTheShortestDecimal(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 44))
	list := []float64{0, 0.1, 1e15, 123456789.123456, 1e-7, 0.000001, 2.0 / 3, math.Pi, 1e300, 5e-324,
		999999999999999.9}
	for range 20000 {
		list = append(list, math.Round(r.NormFloat64()*1e9)/math.Pow10(r.IntN(10)), r.NormFloat64())
	}
	for _, x := range list {
		long, err := Parse(strconv.FormatFloat(x, 'f', -1, 64))
		got, err2 := Of(x)
		if (err == nil) != (err2 == nil) || err == nil && !got.Equal(long) {
			t.Fatalf("%v: %v, by its digits %v (%v, %v)", x, got, long, err, err2)
		}
	}
	for _, x := range []float64{math.NaN(), math.Inf(1), math.Inf(-1)} {
		if _, err := Of(x); err == nil {
			t.Errorf("%v was taken", x)
		}
	}
}
