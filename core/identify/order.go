package identify

import (
	"fmt"

	"zorvel/core/fault"
	"zorvel/core/say"
)

// Order is a purchase about to be made on the strength of a verdict.
type Order struct {
	Goal         Goal    `json:"goal"`
	Price        float64 `json:"price"`                // of the set
	WrongCost    float64 `json:"wrong_cost,omitempty"` // of a wrong set: freight, restocking, labor twice; the price if left out
	LaborPerHour float64 `json:"labor_per_hour,omitempty"`
}

// Gate weighs ordering now against measuring once more. Money is in whatever
// currency the order was given in.
type Gate struct {
	ChanceWrong  float64  `json:"chance_wrong"`
	LossNow      float64  `json:"loss_now"`     // chance wrong × cost of a wrong set
	Minutes      float64  `json:"minutes"`      // of the next measurement
	MeasureCost  float64  `json:"measure_cost"` // its labor
	ChanceAfter  float64  `json:"chance_after"`
	LossAfter    float64  `json:"loss_after"`
	MeasureFirst bool     `json:"measure_first"`
	Do           string   `json:"-"`
	Sentence     string   `json:"sentence"`
	Origin       []string `json:"origin"`
}

// Gate answers whether to order now. It returns an *Error on impossible
// amounts and on an assessment without readings.
func (a *Assessment) Gate(o Order, sit Situation) (Gate, error) {
	if len(a.readings) == 0 {
		return Gate{}, fault.New("order", "nothing is measured yet: there is nothing to order by")
	}
	for _, f := range []struct {
		name string
		v    float64
	}{{"price", o.Price}, {"wrong_cost", o.WrongCost}, {"labor_per_hour", o.LaborPerHour}} {
		if !(f.v >= 0 && f.v <= 1e9) {
			return Gate{}, fault.New("order/"+f.name, "an amount of money from 0 up")
		}
	}
	wrong := o.WrongCost
	if wrong == 0 {
		wrong = o.Price
	}
	plan := a.Next(o.Goal, sit)
	g := Gate{ChanceWrong: 1 - plan.Sure}
	g.LossNow = g.ChanceWrong * wrong
	g.ChanceAfter, g.LossAfter = g.ChanceWrong, g.LossNow
	// The option that leaves the least expected cost, not the fewest minutes.
	for _, x := range plan.Options {
		cost := x.Minutes / 60 * o.LaborPerHour
		if total := cost + x.WrongAfter*wrong; total < g.LossNow && (!g.MeasureFirst || total < g.MeasureCost+g.LossAfter) {
			g.MeasureFirst = true
			g.Do, g.Minutes, g.MeasureCost = x.Do, x.Minutes, cost
			g.ChanceAfter, g.LossAfter = x.WrongAfter, x.WrongAfter*wrong
		}
	}
	what := "ratio"
	if o.Goal == SettlePair {
		what = "exact pair"
	}
	if g.MeasureFirst {
		g.Sentence = fmt.Sprintf("Measure first: %s. %.0f minutes bring the chance of a wrong %s from %s to %s.", g.Do, g.Minutes, what,
			say.Chance(g.ChanceWrong), say.Chance(g.ChanceAfter))
	} else {
		g.Sentence = fmt.Sprintf("Ordering now is reasonable: the chance of a wrong %s is %s, and no measurement is "+
			"worth its minutes.", what, say.Chance(g.ChanceWrong))
	}
	g.Origin = []string{
		fmt.Sprintf("expected loss now = chance wrong × cost of a wrong set = %.4f × %.2f = %.2f", g.ChanceWrong, wrong, g.LossNow),
	}
	if g.MeasureFirst {
		g.Origin = append(g.Origin, fmt.Sprintf("after measuring = labor + chance wrong × cost = %.2f + %.4f × %.2f = %.2f",
			g.MeasureCost, g.ChanceAfter, wrong, g.MeasureCost+g.LossAfter))
	}
	return g, nil
}
