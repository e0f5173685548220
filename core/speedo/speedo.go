package speedo

import (
	"fmt"
	"slices"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
	"zorvel/core/tire"
)

// Request asks for gears, for a calibration, for a check, or for several of
// them. The take-off comes from a driveline, or plainly from the turns of its
// shaft per turn of the wheels.
type Request struct {
	Driveline *driveline.Document `json:"driveline,omitempty"`
	TakeOff   string              `json:"take_off,omitempty"` // a shaft of the driveline; the last before the axle if left out
	Axle      exact.Figure        `json:"axle,omitzero"`      // turns of the take-off per wheel turn
	Tire      tire.Tire           `json:"tire"`
	// Before is what was in it when the speedometer read right: with the fitted
	// gears it tells how many cable turns this one wants.
	Before *Before `json:"before,omitempty"`

	Mechanical *Mechanical `json:"mechanical,omitempty"`
	Electronic *Electronic `json:"electronic,omitempty"`
	Verify     *Verify     `json:"verify,omitempty"`

	// UseShop asks who holds the shop's lists to fill in gears left out, those
	// of Family where it is named; Work itself takes Mechanical as it is.
	UseShop bool   `json:"use_shop,omitempty"`
	Family  string `json:"family,omitempty"`
}

// Before is an axle and a tire on which the gears that are in it read right.
type Before struct {
	Axle exact.Figure `json:"axle,omitzero"` // turns of the take-off per wheel turn; as now if left out
	Tire tire.Tire    `json:"tire,omitzero"` // as now if left out
}

// TakeOff is the shaft that the answer is for.
type TakeOff struct {
	Name       string        `json:"name"`
	Shaft      string        `json:"shaft,omitempty"`
	PerMeter   exact.Number  `json:"turns_per_meter"`
	PerWheel   exact.Number  `json:"turns_per_wheel_turn"`
	TurnsPerKM exact.Number  `json:"turns_per_km"`
	Low        *exact.Number `json:"low,omitempty"`
	Formula    string        `json:"formula"`
}

// Answer is everything asked for.
type Answer struct {
	Tire       *tire.Answer        `json:"tire,omitempty"`
	TakeOff    *TakeOff            `json:"take_off,omitempty"`
	TakeOffs   []driveline.TakeOff `json:"take_offs"`
	Mechanical *MechanicalAnswer   `json:"mechanical,omitempty"`
	Electronic *ElectronicAnswer   `json:"electronic,omitempty"`
	Verified   *Verified           `json:"verified,omitempty"`
	Fitting    []FitStep           `json:"fitting"`
	Rules      []Rule              `json:"rules"`
	Cautions   []string            `json:"cautions"`

	// same: no tire is told, and what read right before did so on the same one.
	same bool
	// rounding is what the ratios as they are typed leave open, ± percent.
	rounding float64
}

// anyTire stands in where the tire cancels, mm a turn.
var anyTire = exact.Int(2000)

func meters(mm exact.Number) exact.Number { return mm.Div(exact.Int(1000)) }

var cautions = []string{
	"A speedometer that reads low is not road legal in most places; tolerances differ, local rules decide.",
	"Check with a passenger reading, on a closed or empty road, at a lawful speed.",
}

// Work answers a request. Faults are fault.Error or fault.Errors.
func Work(q Request) (*Answer, error) {
	if err := fault.Figures(q); err != nil {
		return nil, err
	}
	a := &Answer{TakeOffs: []driveline.TakeOff{}, Rules: Rules(), Cautions: slices.Clone(cautions), Fitting: []FitStep{}}
	if q.Mechanical == nil && q.Electronic == nil && q.Verify == nil {
		return nil, fault.New("mechanical", "say what is asked: mechanical gears, electronic calibration, or a check on the road")
	}
	if q.Mechanical != nil || q.Electronic != nil {
		if err := a.shaft(q); err != nil {
			return nil, err
		}
	}
	var err error
	if q.Mechanical != nil {
		m := *q.Mechanical
		how, err := a.follow(q, &m)
		if err != nil {
			return nil, err
		}
		if a.Mechanical, err = Gears(a.use(), m); err != nil {
			return nil, err
		}
		if how != "" && a.same {
			how += tireStays()
		}
		if how != "" {
			a.Mechanical.Notes = append([]string{how}, a.Mechanical.Notes...)
		}
		inside := false
		for _, p := range a.Mechanical.Picks[:min(1, len(a.Mechanical.Picks))] {
			inside = q.Mechanical.FittedDrive > 0 && p.Cell.Drive != q.Mechanical.FittedDrive
		}
		a.Fitting = Fitting(inside)
		if a.same {
			a.Tire, a.TakeOff = nil, nil
		}
	}
	if q.Electronic != nil {
		if a.Electronic, err = Pulses(a.use(), *q.Electronic); err != nil {
			return nil, err
		}
	}
	if q.Verify != nil {
		if a.Verified, err = Test(*q.Verify); err != nil {
			return nil, err
		}
	}
	return a, nil
}

// follow takes the cable turns that the speedometer wants from the gears that read
// right before: the new ones follow from them. It says so in a sentence.
func (a *Answer) follow(q Request, m *Mechanical) (string, error) {
	b := q.Before
	if b == nil {
		return "", nil
	}
	if m.FittedDrive < 3 || m.FittedTeeth < 3 {
		return "", fault.New("mechanical/fitted_drive", "enter the drive and the driven gear that read right before")
	}
	if m.Constant.Sign() != 0 {
		return "", fault.New("mechanical/constant", "follows from the gears that read right before; leave it out, or leave that out")
	}
	per, rolling := a.TakeOff.PerWheel, a.Tire.RollingMM
	if b.Axle.Sign() != 0 {
		if b.Axle.Sign() < 0 || b.Axle.Cmp(exact.Int(200)) > 0 {
			return "", fault.New("before/axle", "turns of the take-off shaft per turn of the wheels before, from above 0 to 200")
		}
		per = b.Axle.Number
		if a.same {
			a.rounding = rounded(q.Axle.Number) + rounded(per)
		}
	}
	if b.Tire != (tire.Tire{}) {
		t, err := tire.Work(b.Tire)
		if err != nil {
			return "", fault.Under("before/tire", err)
		}
		rolling = t.RollingMM
		if t.Source == a.Tire.Source { // what one estimate is off, the other is
			a.Tire.Spread = tire.Compare(t, a.Tire).Spread
		}
	}
	perMile := per.Mul(exact.Int(1000)).Div(rolling).Mul(exact.Int(1000)).Mul(mileByKM)
	wanted := perMile.Mul(exact.New(int64(m.FittedDrive), int64(m.FittedTeeth)))
	m.Constant, m.Per = exact.Figure{Number: wanted}, PerMile
	return fmt.Sprintf("Drive %d and driven %d read right before: %s shaft turns per mile × %d ÷ %d = %s cable turns "+
		"per mile, which this speedometer needs.",
		m.FittedDrive, m.FittedTeeth, perMile.Short(1), m.FittedDrive, m.FittedTeeth, wanted.Short(1)), nil
}

// rounded is what a ratio typed as its label leaves open, ± percent: 3.73 may be 41/11
// or 3.725. What is a fraction of small numbers is taken as exact.
func rounded(n exact.Number) float64 {
	if _, den, ok := n.Fraction(); ok && den >= 20 && 100%den == 0 {
		return 0.5 / n.Float()
	}
	return 0
}

func (a *Answer) use() Shaft {
	s := Shaft{Name: a.TakeOff.Name, PerMeter: a.TakeOff.PerMeter, Low: a.TakeOff.Low, Spread: a.Tire.Spread, Known: "the tire is",
		Formula: a.TakeOff.Formula}
	if a.same {
		s.Spread, s.Known = a.rounding, "the axle ratios are"
	}
	return s
}

// shaft finds the take-off and how often it turns.
func (a *Answer) shaft(q Request) error {
	t := q.Tire
	if q.Driveline != nil && t == (tire.Tire{}) {
		for _, x := range q.Driveline.Axles() {
			if x.RollingMM.Sign() > 0 {
				t.RollingMM = exact.Figure{Number: x.RollingMM}
				break
			}
		}
	}
	if b := q.Before; t == (tire.Tire{}) && q.Driveline == nil && q.Electronic == nil && b != nil && b.Axle.Sign() != 0 &&
		b.Tire == (tire.Tire{}) {
		a.same, t.RollingMM = true, exact.Figure{Number: anyTire}
	}
	var err error
	if a.Tire, err = tire.Work(t); err != nil {
		return fault.Under("tire", err)
	}
	mm := a.Tire.RollingMM
	meters := meters(mm)
	if q.Driveline == nil {
		if q.Axle.Sign() <= 0 || q.Axle.Cmp(exact.Int(200)) > 0 {
			return fault.New("axle", "turns of the take-off shaft per turn of the wheels, from above 0 to 200: the axle ratio where the take-off is at the gearbox or transfer case output")
		}
		per := q.Axle.Div(meters)
		a.TakeOff = &TakeOff{Name: "take-off shaft", PerMeter: per, PerWheel: q.Axle.Number, TurnsPerKM: per.Mul(exact.Int(1000)),
			Formula: fmt.Sprintf("%s turns a wheel turn ÷ %s m = %s turns per meter", q.Axle.Short(4), meters.Short(4), per.Short(5))}
		return nil
	}
	if q.Axle.Sign() != 0 {
		return fault.New("axle", "comes from the driveline; leave it out or leave the driveline out")
	}
	for _, x := range q.Driveline.Rear().Axles() {
		switch x.Source.Kind {
		case "unknown":
			if !x.Known && q.TakeOff == "" {
				return fault.New("driveline", "the ratio of the %s isn't known: measure it first, then come back", say.Small(x.Name))
			}
		case "conflict":
			a.Cautions = append(a.Cautions, inConflict(x))
		case "assumed":
			a.Cautions = append(a.Cautions,
				fmt.Sprintf("The %s's %s is assumed, not measured: every error here depends on it.", strings.ToLower(x.Name),
					x.Ratio.Decimal(2)))
		}
	}
	list, err := q.Driveline.TakeOffs(mm)
	if err != nil {
		return err
	}
	if len(list) == 0 {
		return fault.New("driveline", "the road doesn't turn any shaft that is known: measure the axle ratio first")
	}
	a.TakeOffs = list
	at := -1
	for i, x := range list {
		if q.TakeOff == x.Shaft {
			at = i
			break
		}
		// By default the last shaft before the axle that a range doesn't change.
		if q.TakeOff == "" && x.Low == nil && (at < 0 || list[at].Low != nil) {
			at = i
		}
	}
	if at < 0 && q.TakeOff == "" {
		at = 0
	}
	if at < 0 {
		return fault.New("take_off", "not a shaft that the road turns; one of them is %s", list[0].Shaft)
	}
	x := list[at]
	per := x.PerMeter
	a.TakeOff = &TakeOff{Name: x.Name, Shaft: x.Shaft, PerMeter: per, PerWheel: per.Mul(meters), TurnsPerKM: per.Mul(exact.Int(1000)), Low: x.Low,
		Formula: fmt.Sprintf("%s: %s turns a wheel turn ÷ %s m = %s turns per meter", x.Name, per.Mul(meters).Short(4), meters.Short(4), per.Short(5))}
	return nil
}
