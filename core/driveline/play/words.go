package play

// What the answers say. A change of wording is a change here and nowhere else.

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/say"
)

func (w *work) say() {
	a := w.answer
	for k := range a.Measured {
		w.one(&a.Measured[k], w.factors[k], w.repeat[k])
	}
	last := &a.Measured[len(a.Measured)-1]
	f := w.factors[len(w.factors)-1]
	sum := 0.0
	byPart := map[string]float64{}
	for i, s := range w.places {
		byPart[s.Part] += f[i] * s.Likely
		sum += f[i] * s.Likely
	}
	if sum > 0 {
		for id, v := range byPart {
			if v > 0 {
				a.Parts[id] = say.Round(v/sum, 4)
			}
		}
	}
	a.Sentence = last.Text
	if told := w.backward(); told != "" {
		a.Asks = append(a.Asks, told)
		a.Sentence = told + " " + a.Sentence
	}
	if last.TwoWays {
		a.Sentence += " It is held from both sides, and only the tighter one shows: neutral, or the wheels lifted, " +
			"measures the other side alone."
	} else if last.Bounded && last.Degrees != nil && last.State == "more" {
		a.Sentence += " " + w.where(byPart, sum)
	}
	if last.Bounded && !last.TwoWays {
		w.next(last, f)
	}
	for _, o := range w.q.Suppose {
		k := slices.IndexFunc(w.places, func(s source) bool { return s.ID == o.Place })
		a.Supposed = append(a.Supposed, fmt.Sprintf("%s° at the %s shows as %s° at the %s.", say.Trim(o.Degrees, 2),
			w.places[k].Name, say.Trim(o.Degrees*f[k], 2), last.Name))
	}
}

// where names the part that most of the surplus sits in, if the measurements
// tell; else it says that they don't.
func (w *work) where(byPart map[string]float64, sum float64) string {
	best, share := "", 0.0
	for _, id := range slices.Sorted(maps.Keys(byPart)) {
		if v := byPart[id] / sum; v > share {
			best, share = id, v
		}
	}
	if best == "" {
		return ""
	}
	var p *driveline.Part
	for i := range w.q.Driveline.Parts {
		if w.q.Driveline.Parts[i].ID == best {
			p = &w.q.Driveline.Parts[i]
		}
	}
	measured := 0
	for _, m := range w.answer.Measured {
		if m.Bounded && m.Degrees != nil {
			measured++
		}
	}
	much := "most of it sits"
	if share < 0.5 {
		much = "the largest share sits"
	}
	where := fmt.Sprintf("%s in the %s: %s of 100.", much, say.Small(p.Called()), say.Trim(100*share, 0))
	if measured < 2 {
		return "One measurement can't tell where; by what is usual, " + where
	}
	return say.Capital(where)
}

func (w *work) some() string {
	var out []string
	for _, s := range w.places[:min(6, len(w.places))] {
		out = append(out, s.ID)
	}
	return "for one: " + strings.Join(out, ", ")
}

// moreHeld says which two measurements exclude each other.
func moreHeld(i int, nearer, farther RockedOut, k int) string {
	return fmt.Sprintf("Measurement %d can't be: with more held the %s can't show more play (%s°) than with less held "+
		"(%s° in measurement %d). Measure both again, from stop to stop.",
		i+1, nearer.Name, say.Trim(*nearer.Degrees, 1), say.Trim(*farther.Degrees, 1), k+1)
}

// turnsFreely says that there is no play to measure.
func turnsFreely(out *RockedOut) string {
	return fmt.Sprintf("The %s turns freely as set: nothing stops it, so there is no play to measure. Hold what "+
		"it drives: both wheels, or a gear and the engine.", out.Name)
}

// usualBand is the play that is usual at a place.
func usualBand(usual, sigma float64) string {
	return fmt.Sprintf("usual here is about %s° (%s to %s°)", say.Trim(usual, 1),
		say.Trim(math.Max(0, usual-2*sigma), 1), say.Trim(usual+2*sigma, 1))
}

// usualAt is what to expect of a place that was not measured.
func usualAt(out *RockedOut, band string) string {
	return fmt.Sprintf("At the %s: %s.", out.Name, band)
}

// moreThanUsual is a play that is too large.
func moreThanUsual(d float64, out *RockedOut, band string) string {
	return fmt.Sprintf("%s° at the %s is more than usual; %s.", say.Trim(d, 1), out.Name, band)
}

// lessThanUsual asks what else is held.
func lessThanUsual(d float64, out *RockedOut, band string) string {
	return fmt.Sprintf("%s° at the %s is less than usual (%s): is something else held, or bound?", say.Trim(d, 1),
		out.Name, band)
}

// asUsual is a play as it should be.
func asUsual(d float64, out *RockedOut, band string) string {
	return fmt.Sprintf("%s° at the %s is as usual; %s.", say.Trim(d, 1), out.Name, band)
}

// askRatio asks for a ratio that the answer rests on.
func askRatio(u driveline.Unknown) string {
	return fmt.Sprintf("The ratio of the %s is not known, and the play passes through it: this answer is "+
		"only a placeholder. Enter or measure it first.", say.Small(u.Part.Called()))
}

// holdAsWell is the next measurement.
func holdAsWell(bestName string, last *RockedOut) string {
	return fmt.Sprintf("Hold the %s as well and rock the %s again: play that is left is between the two; "+
		"play that is gone is behind.", bestName, last.Name)
}
