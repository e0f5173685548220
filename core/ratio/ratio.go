// Package ratio holds gear ratios as exact fractions and gear pairs as tooth
// counts.
//
// A ratio is always input turns per one output turn. It stays a fraction of
// integers through every computation; decimals appear only when printed. A
// negative ratio means that the output turns against the input.
package ratio

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"math/big"
)

// ErrZero is returned where a ratio would need a zero tooth count or a zero
// denominator: no gear has zero teeth.
var ErrZero = errors.New("a ratio needs tooth counts above zero")

// ErrRange is returned when an exact product no longer fits 64-bit integers.
var ErrRange = errors.New("the ratio is too large to be held exactly")

// Ratio is an exact fraction in lowest terms, input turns per output turn.
// The zero value is not a ratio; make one with New, FromTeeth or Parse-like
// constructors.
type Ratio struct {
	num, den int64
}

// One is direct drive.
var One = Ratio{1, 1}

// New returns num/den in lowest terms with a positive denominator.
// It returns ErrZero if either is zero.
func New(num, den int64) (Ratio, error) {
	if num == 0 || den == 0 {
		return Ratio{}, ErrZero
	}
	if den < 0 {
		num, den = -num, -den
	}
	g := gcd(abs(num), den)
	return Ratio{num / g, den / g}, nil
}

// Must is New for constants known to be sound; it panics on ErrZero.
func Must(num, den int64) Ratio {
	r, err := New(num, den)
	if err != nil {
		panic(err)
	}
	return r
}

type written struct {
	Num     int64   `json:"num"`
	Den     int64   `json:"den"`
	Decimal float64 `json:"decimal"`
	Label   string  `json:"label"`
}

// MarshalJSON writes the fraction, its decimal to six places, and the label.
func (r Ratio) MarshalJSON() ([]byte, error) {
	if r.IsZero() {
		return []byte("null"), nil
	}
	return json.Marshal(written{r.num, r.den, math.Round(r.Float()*1e6) / 1e6, r.Label()})
}

// UnmarshalJSON reads what MarshalJSON writes; only num and den count.
func (r *Ratio) UnmarshalJSON(data []byte) error {
	var w *written
	if err := json.Unmarshal(data, &w); err != nil {
		return err
	}
	if w == nil {
		*r = Ratio{}
		return nil
	}
	x, err := New(w.Num, w.Den)
	*r = x
	return err
}

// Num returns the numerator in lowest terms; it carries the sign.
func (r Ratio) Num() int64 { return r.num }

// Den returns the denominator in lowest terms, always positive.
func (r Ratio) Den() int64 { return r.den }

// IsZero reports whether r is the zero value, which is no ratio.
func (r Ratio) IsZero() bool { return r.den == 0 }

// Float returns the nearest float64.
func (r Ratio) Float() float64 { return float64(r.num) / float64(r.den) }

// Rat returns r as a new big.Rat.
func (r Ratio) Rat() *big.Rat { return big.NewRat(r.num, r.den) }

// Reverses reports whether the output turns against the input.
func (r Ratio) Reverses() bool { return r.num < 0 }

// Mul returns the overall ratio of r followed by s: stages in line multiply.
// It returns ErrRange if the exact product does not fit.
func (r Ratio) Mul(s Ratio) (Ratio, error) {
	// Cross-reduce first, so that only a true overflow is reported.
	g1, g2 := gcd(abs(r.num), s.den), gcd(abs(s.num), r.den)
	n1, n2 := r.num/g1, s.num/g2
	d1, d2 := r.den/g2, s.den/g1
	num, ok1 := mul(n1, n2)
	den, ok2 := mul(d1, d2)
	if !ok1 || !ok2 {
		return Ratio{}, ErrRange
	}
	return New(num, den)
}

// Inverse returns output turns per input turn as a ratio.
func (r Ratio) Inverse() Ratio {
	if r.num < 0 {
		return Ratio{-r.den, -r.num}
	}
	return Ratio{r.den, r.num}
}

// Cmp compares exactly: -1 if r < s, 0 if equal, +1 if r > s.
func (r Ratio) Cmp(s Ratio) int { return r.Rat().Cmp(s.Rat()) }

// Decimal prints r with the given number of places, rounding half away from
// zero from the exact fraction (43/8 is 5.375 and prints as 5.38).
func (r Ratio) Decimal(places int) string {
	if r.IsZero() {
		return ""
	}
	return r.Rat().FloatString(places)
}

// Label is the trade label: two decimals.
func (r Ratio) Label() string { return r.Decimal(2) }

// Hundredths is the trade label as an integer, 522 for 5.22: an exact key to
// group pairs that share a label. The sign is kept.
func (r Ratio) Hundredths() int64 {
	n, neg := abs(r.num), r.num < 0
	whole, rest := n/r.den, n%r.den
	h := whole*100 + (rest*200+r.den)/(2*r.den)
	if neg {
		return -h
	}
	return h
}

// String prints the fraction, "47/9".
func (r Ratio) String() string {
	if r.IsZero() {
		return ""
	}
	return fmt.Sprintf("%d/%d", r.num, r.den)
}

func mul(a, b int64) (int64, bool) {
	p := a * b
	if a != 0 && (p/a != b) {
		return 0, false
	}
	return p, true
}

func abs(n int64) int64 {
	if n < 0 {
		return -n
	}
	return n
}

func gcd(a, b int64) int64 {
	for b != 0 {
		a, b = b, a%b
	}
	return a
}
