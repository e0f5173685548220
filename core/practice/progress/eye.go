package progress

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"

	"zorvel/core/say"
)

// Eye is how a learner judges a partial turn by eye, in turns: what he reads too much on
// the mean, and how far he scatters, each with the range that holds it 95 times in 100.
type Eye struct {
	Cards      int     `json:"cards"`
	Bias       float64 `json:"bias"`
	BiasLow    float64 `json:"bias_low"`
	BiasHigh   float64 `json:"bias_high"`
	Spread     float64 `json:"spread"`
	SpreadLow  float64 `json:"spread_low"`
	SpreadHigh float64 `json:"spread_high"`
	Sentence   string  `json:"sentence"`
}

// What the eye is judged by: the last sixty cards, from eight on. A mark read on the wrong
// side of the dial is a slip, not a spread.
const (
	leastCards = 8
	mostCards  = 60
	slip       = 0.25
)

// EyeOf is the eye by the cards of the partial turn; nil before there are enough. The mean
// has Student's distribution, the variance the chi-square (both exact for errors that
// scatter as a bell).
func EyeOf(list []Result) *Eye {
	var off []float64
	for _, r := range list {
		if r.What == "remainder" && r.Off != nil && finite(*r.Off) && math.Abs(*r.Off) <= slip {
			off = append(off, *r.Off)
		}
	}
	off = off[max(0, len(off)-mostCards):]
	if len(off) < leastCards {
		return nil
	}
	n := float64(len(off))
	mean, sd := stat.MeanStdDev(off, nil)
	sd = math.Max(sd, 0.001)
	t := distuv.StudentsT{Mu: 0, Sigma: 1, Nu: n - 1}.Quantile(0.975) * sd / math.Sqrt(n)
	chi := distuv.ChiSquared{K: n - 1}
	e := &Eye{Cards: len(off), Bias: mean, BiasLow: mean - t, BiasHigh: mean + t, Spread: sd,
		SpreadLow: sd * math.Sqrt((n-1)/chi.Quantile(0.975)), SpreadHigh: sd * math.Sqrt((n-1)/chi.Quantile(0.025))}
	for _, v := range []*float64{&e.Bias, &e.BiasLow, &e.BiasHigh, &e.Spread, &e.SpreadLow, &e.SpreadHigh} {
		*v = say.Round(*v, 3)
	}
	e.Sentence = e.words()
	return e
}

// words says it in hundredths of a turn.
func (e *Eye) words() string {
	lean := "no lean that shows"
	switch {
	case e.BiasLow > 0:
		lean = fmt.Sprintf("on average %s too much", hundredths(e.Bias))
	case e.BiasHigh < 0:
		lean = fmt.Sprintf("on average %s too little", hundredths(-e.Bias))
	}
	return fmt.Sprintf("Your eye, over %d cards: ±%s hundredths of a turn (%s to %s), %s.", e.Cards,
		hundredths(e.Spread),
		hundredths(e.SpreadLow), hundredths(e.SpreadHigh), lean)
}

func hundredths(turns float64) string { return say.Trim(100*turns, 1) }
