// Package exact holds rational numbers for the equations of a driveline.
//
// A Number is always exact. While numerator and denominator fit 64 bits it
// works on machine integers; beyond that it carries on with math/big, so no
// operation ever rounds or overflows. The zero value is 0.
package exact

import (
	"encoding/json"
	"errors"
	"math"
	"math/big"
	"math/bits"
	"strconv"
	"strings"
)

// ErrSyntax is returned by Parse for text that is no number.
var ErrSyntax = errors.New("a whole number, a decimal or a fraction such as 41/10 is expected")

// Number is an exact rational number. Values are immutable and comparable
// with Cmp, not with ==.
type Number struct {
	n, d int64 // lowest terms, d > 0; d = 0 stands for 1 in the zero value
	big  *big.Rat
}

// Int returns n.
func Int(n int64) Number {
	if n == math.MinInt64 {
		return fromRat(new(big.Rat).SetInt64(n))
	}
	return Number{n: n, d: 1}
}

// New returns n/d. It panics if d is zero, as integer division does.
func New(n, d int64) Number {
	if d == 0 {
		panic("exact: division by zero")
	}
	if n == math.MinInt64 || d == math.MinInt64 {
		return fromRat(big.NewRat(n, d))
	}
	if d < 0 {
		n, d = -n, -d
	}
	g := gcd(mag(n), uint64(d))
	return Number{n: n / int64(g), d: d / int64(g)}
}

// Of returns the decimal that x prints as: 0.1 becomes 1/10. It returns
// ErrSyntax for infinities and NaN.
func Of(x float64) (Number, error) {
	// Of up to fifteen digits every decimal is the shortest that reads as its float.
	for scale := int64(1); scale <= 1_000_000; scale *= 10 {
		if n := math.Round(x * float64(scale)); math.Abs(n) < 1e15 && n/float64(scale) == x {
			return New(int64(n), scale), nil
		}
	}
	return Parse(strconv.FormatFloat(x, 'f', -1, 64))
}

// Parse reads "41", "4.1", "41/10" or "-41/10". Text longer than 60 characters
// is refused.
func Parse(s string) (Number, error) {
	s = strings.TrimSpace(s)
	if s == "" || len(s) > 60 || strings.ContainsAny(s, "eExXpP_") {
		return Number{}, ErrSyntax
	}
	num, den, frac := strings.Cut(s, "/")
	a, ok := new(big.Rat).SetString(strings.TrimSpace(num))
	if !ok {
		return Number{}, ErrSyntax
	}
	if frac {
		b, ok := new(big.Rat).SetString(strings.TrimSpace(den))
		if !ok || b.Sign() == 0 {
			return Number{}, ErrSyntax
		}
		a.Quo(a, b)
	}
	return fromRat(a), nil
}

func fromRat(r *big.Rat) Number {
	if r.Num().IsInt64() && r.Denom().IsInt64() && r.Num().Int64() != math.MinInt64 {
		return Number{n: r.Num().Int64(), d: r.Denom().Int64()}
	}
	return Number{big: r}
}

// den is the denominator of a small number.
func (a Number) den() int64 {
	if a.d == 0 {
		return 1
	}
	return a.d
}

// Rat returns a as a new big.Rat.
func (a Number) Rat() *big.Rat {
	if a.big != nil {
		return new(big.Rat).Set(a.big)
	}
	return big.NewRat(a.n, a.den())
}

// Sign returns -1, 0 or +1.
func (a Number) Sign() int {
	if a.big != nil {
		return a.big.Sign()
	}
	switch {
	case a.n > 0:
		return 1
	case a.n < 0:
		return -1
	}
	return 0
}

// IsZero reports whether a is 0.
func (a Number) IsZero() bool { return a.big == nil && a.n == 0 }

// Neg returns -a.
func (a Number) Neg() Number {
	if a.big != nil {
		return fromRat(new(big.Rat).Neg(a.big))
	}
	return Number{n: -a.n, d: a.d}
}

// Abs returns |a|.
func (a Number) Abs() Number {
	if a.Sign() < 0 {
		return a.Neg()
	}
	return a
}

// Add returns a + b.
func (a Number) Add(b Number) Number {
	if a.big == nil && b.big == nil {
		ad, bd := a.den(), b.den()
		if ad == 1 && bd == 1 { // whole numbers need no common divisor
			if s := a.n + b.n; (a.n^s)&(b.n^s) >= 0 && s != math.MinInt64 {
				return Number{n: s, d: 1}
			}
		}
		g := int64(gcd(uint64(ad), uint64(bd)))
		x, ok1 := mul(a.n, bd/g)
		y, ok2 := mul(b.n, ad/g)
		d, ok3 := mul(ad/g, bd)
		if s := x + y; ok1 && ok2 && ok3 && (x^s)&(y^s) >= 0 && s != math.MinInt64 {
			h := int64(gcd(mag(s), uint64(d)))
			return Number{n: s / h, d: d / h}
		}
	}
	return fromRat(new(big.Rat).Add(a.Rat(), b.Rat()))
}

// Sub returns a − b.
func (a Number) Sub(b Number) Number { return a.Add(b.Neg()) }

// Mul returns a · b.
func (a Number) Mul(b Number) Number {
	if a.big == nil && b.big == nil {
		ad, bd := a.den(), b.den()
		if ad == 1 && bd == 1 {
			if n, ok := mul(a.n, b.n); ok {
				return Number{n: n, d: 1}
			}
		}
		g, h := int64(gcd(mag(a.n), uint64(bd))), int64(gcd(mag(b.n), uint64(ad)))
		n, ok1 := mul(a.n/g, b.n/h)
		d, ok2 := mul(ad/h, bd/g)
		if ok1 && ok2 {
			return Number{n: n, d: d}
		}
	}
	return fromRat(new(big.Rat).Mul(a.Rat(), b.Rat()))
}

// Div returns a / b. It panics if b is zero.
func (a Number) Div(b Number) Number { return a.Mul(b.Inv()) }

// Inv returns 1/a. It panics if a is zero.
func (a Number) Inv() Number {
	if a.IsZero() {
		panic("exact: division by zero")
	}
	if a.big != nil {
		return fromRat(new(big.Rat).Inv(a.big))
	}
	if a.n < 0 {
		return Number{n: -a.den(), d: -a.n}
	}
	return Number{n: a.den(), d: a.n}
}

// Cmp compares a and b: -1, 0 or +1.
func (a Number) Cmp(b Number) int { return a.Sub(b).Sign() }

// Equal reports whether a and b are the same number.
func (a Number) Equal(b Number) bool {
	if a.big == nil && b.big == nil {
		return a.n == b.n && a.den() == b.den()
	}
	return a.Cmp(b) == 0
}

// Float returns the nearest float64.
func (a Number) Float() float64 {
	if a.big != nil {
		f, _ := a.big.Float64()
		return f
	}
	return float64(a.n) / float64(a.den())
}

// Decimal prints a with the given number of places, rounded half away from zero.
func (a Number) Decimal(places int) string {
	if a.big == nil && places >= 0 && places < len(powers) {
		// |n|·10^places may take 128 bits; the quotient has to fit 64.
		d := uint64(a.den())
		hi, lo := bits.Mul64(mag(a.n), powers[places])
		if hi < d {
			q, r := bits.Div64(hi, lo, d)
			if r >= d-r {
				q++
			}
			if q != 0 || r < d-r { // not wrapped around
				return point(q, places, a.n < 0)
			}
		}
	}
	return a.Rat().FloatString(places)
}

var powers = [...]uint64{1, 10, 100, 1000, 10_000, 100_000, 1_000_000, 10_000_000, 100_000_000}

// point writes q with its last places behind the point.
func point(q uint64, places int, negative bool) string {
	buf := make([]byte, 0, 24)
	if negative {
		buf = append(buf, '-')
	}
	buf = strconv.AppendUint(buf, q/powers[places], 10)
	if places > 0 {
		buf = append(buf, '.')
		rest := q % powers[places]
		for k := places - 1; k >= 0; k-- {
			buf = append(buf, byte('0'+rest/powers[k]%10))
		}
	}
	return string(buf)
}

// Short prints a with at most the given number of places, without trailing
// zeros: 2, 0.5, 0.2439.
func (a Number) Short(places int) string {
	s := a.Decimal(places)
	if strings.Contains(s, ".") {
		s = strings.TrimRight(strings.TrimRight(s, "0"), ".")
	}
	if s == "-0" {
		return "0"
	}
	return s
}

// String prints the fraction in lowest terms: "41/10", "2", "-1/4".
func (a Number) String() string {
	if a.big != nil {
		return a.big.RatString()
	}
	s := strconv.FormatInt(a.n, 10)
	if d := a.den(); d != 1 {
		s += "/" + strconv.FormatInt(d, 10)
	}
	return s
}

// Label is how the trade prints a ratio: with two decimals.
func (a Number) Label() string { return a.Decimal(2) }

// Hundredths is the label as an integer, 522 for 5.22: an exact key to group
// ratios that share a label. What doesn't fit 64 bits is 0.
func (a Number) Hundredths() int64 {
	h := a.Abs().Mul(Int(200)).Add(Int(1)) // twice the hundredths, and half of one
	if h.big != nil {
		return 0
	}
	n := h.n / h.den() / 2
	if a.Sign() < 0 {
		return -n
	}
	return n
}

// Fraction is numerator and denominator in lowest terms; false where they don't
// fit 64 bits.
func (a Number) Fraction() (num, den int64, ok bool) { return a.n, a.den(), a.big == nil }

type wire struct {
	Num     *big.Int `json:"num"`
	Den     *big.Int `json:"den"`
	Decimal float64  `json:"decimal"`
	Label   string   `json:"label"`
}

// wire64 is wire while both fit 64 bits.
type wire64 struct {
	Num     int64   `json:"num"`
	Den     int64   `json:"den"`
	Decimal float64 `json:"decimal"`
	Label   string  `json:"label"`
}

// MarshalJSON writes the numerator, the denominator, the decimal to six places
// and the label to two.
func (a Number) MarshalJSON() ([]byte, error) {
	f := a.Float()
	if math.Abs(f) < 1e12 {
		f = math.Round(f*1e6) / 1e6
	}
	if math.IsInf(f, 0) {
		f = math.Copysign(math.MaxFloat64, f)
	}
	if a.big == nil {
		return json.Marshal(wire64{a.n, a.den(), f, a.Decimal(2)})
	}
	return json.Marshal(wire{a.big.Num(), a.big.Denom(), f, a.Decimal(2)})
}

// UnmarshalJSON reads what MarshalJSON writes (only num and den count), a text
// such as "41/10", or a plain JSON number, which is taken as the decimal that
// it is written as.
func (a *Number) UnmarshalJSON(data []byte) error {
	if len(data) > 0 && data[0] != '{' && string(data) != "null" {
		text := string(data)
		if data[0] == '"' {
			if err := json.Unmarshal(data, &text); err != nil {
				return err
			}
		}
		n, err := Parse(text)
		if err != nil {
			return err
		}
		*a = n
		return nil
	}
	var w wire
	if err := json.Unmarshal(data, &w); err != nil {
		return err
	}
	if w.Num == nil || w.Den == nil || w.Den.Sign() == 0 {
		return ErrSyntax
	}
	*a = fromRat(new(big.Rat).SetFrac(w.Num, w.Den))
	return nil
}

func mag(n int64) uint64 {
	if n < 0 {
		return uint64(-n)
	}
	return uint64(n)
}

// mul multiplies and reports whether the product fits.
func mul(a, b int64) (int64, bool) {
	hi, lo := bits.Mul64(mag(a), mag(b))
	if hi != 0 || lo > math.MaxInt64 {
		return 0, false
	}
	if (a < 0) != (b < 0) {
		return -int64(lo), true
	}
	return int64(lo), true
}

func gcd(a, b uint64) uint64 {
	for b != 0 {
		a, b = b, a%b
	}
	if a == 0 {
		return 1
	}
	return a
}

// Figure is a Number that documents write as text, "41/10".
type Figure struct{ Number }

// MarshalJSON writes the fraction in lowest terms as text.
func (f Figure) MarshalJSON() ([]byte, error) { return json.Marshal(f.String()) }
