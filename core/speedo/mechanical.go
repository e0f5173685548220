// Package speedo makes a speedometer true: drive and driven gears of a
// mechanical one, pulses and correction factor of an electronic one, and how
// true it is by stopwatch, odometer or a recorded track.
//
// An error is shown ÷ true − 1: positive reads high. Reading a little high is
// preferred; reading low is never recommended.
package speedo

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"

	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
)

var (
	one      = exact.Int(1)
	mileByKM = exact.New(1609344, 1000000) // kilometers in a mile
)

// Per is the distance that a cable constant or a pulse count belongs to.
type Per string

// Distances.
const (
	PerMile Per = "mile"
	PerKM   Per = "km"
)

// DefaultConstant is how often the cable turns in a mile for most mechanical
// speedometers.
const DefaultConstant = 1000

// Shaft is the take-off: how often it turns along the road.
type Shaft struct {
	Name string
	// PerMeter is turns of the shaft per meter.
	PerMeter exact.Number
	// Low is the same in low range, where the take-off lies before the range.
	Low *exact.Number
	// Spread is ± percent of what is known least: the tire's rolling circumference, as
	// a rule. Known names it: "the tire is".
	Spread float64
	Known  string
	// Formula tells where PerMeter came from.
	Formula string
}

// Gear is a drive or driven gear.
type Gear struct {
	Teeth int    `json:"teeth"`
	Name  string `json:"name,omitempty"`
	Color string `json:"color,omitempty"` // a hint only
	Shelf int    `json:"shelf,omitempty"`
}

// Housing holds driven gears of a range of teeth.
type Housing struct {
	Name string `json:"name"`
	// Marked is the range on the housing; Takes is what it really takes.
	MarkedFrom int `json:"marked_from,omitempty"`
	MarkedTo   int `json:"marked_to,omitempty"`
	TakesFrom  int `json:"takes_from"`
	TakesTo    int `json:"takes_to"`
	Shelf      int `json:"shelf,omitempty"`
}

// Adapter is a box between cable and speedometer: cable turns out per turn in.
type Adapter struct {
	Name  string       `json:"name"`
	Ratio exact.Figure `json:"ratio"`
	Shelf int          `json:"shelf,omitempty"`
}

// Mechanical asks for the gears of a mechanical speedometer.
type Mechanical struct {
	Constant    exact.Figure `json:"constant,omitzero"` // cable turns per mile or km; 1000 a mile if left out
	Per         Per          `json:"per,omitempty"`
	Drives      []Gear       `json:"drives"`
	Driven      []Gear       `json:"driven"`
	Housings    []Housing    `json:"housings,omitempty"` // none: housings aren't considered
	Adapters    []Adapter    `json:"adapters,omitempty"`
	FittedDrive int          `json:"fitted_drive,omitempty"`
	FittedTeeth int          `json:"fitted_driven,omitempty"`
	SpeedsKMH   []float64    `json:"speeds_kmh,omitempty"` // true speeds to tell the needle for; 50, 80 and 110 if left out

	// Families of gears among which nobody has chosen: common counts stand in.
	Families []string `json:"-"`
}

// Marks of a pair.
const (
	MarkGood   = "good"   // 0 to 2 % high
	MarkUsable = "usable" // to 4 % high
	MarkHigh   = "high"   // above
	MarkLow    = "low"    // reads low: never recommended
)

// Limits of the marks, in percent.
const (
	goodTo   = 2.0
	usableTo = 4.0
)

// Reads is what the needle shows at a true speed.
type Reads struct {
	True  float64 `json:"true_kmh"`
	Shown float64 `json:"shown_kmh"`
	// AllowedTo is the most that UN Regulation 39 lets the needle show.
	AllowedTo float64 `json:"allowed_to_kmh"`
}

// Cell is one drive and driven gear together.
type Cell struct {
	Drive    int          `json:"drive"`
	Driven   int          `json:"driven"`
	Error    exact.Number `json:"error"` // shown ÷ true − 1
	Percent  float64      `json:"percent"`
	Mark     string       `json:"mark"`
	Housings []string     `json:"housings"`
	// Held is false where no housing takes the driven gear.
	Held    bool    `json:"held"`
	Shelf   bool    `json:"shelf"`
	Reads   []Reads `json:"reads"`
	Words   string  `json:"words"`
	Formula string  `json:"formula"`
}

// Ideal is the driven gear that would be true with a drive gear.
type Ideal struct {
	Drive   int          `json:"drive"`
	Driven  exact.Number `json:"driven"`
	Formula string       `json:"formula"`
}

// Pick is a recommended cell and why.
type Pick struct {
	Which string `json:"which"` // best, least_high, nearest, shelf, sure, keep_drive
	Cell  Cell   `json:"cell"`
	Why   string `json:"why"`
}

// AdapterPick is a pair with an adapter box.
type AdapterPick struct {
	Drive   int          `json:"drive"`
	Driven  int          `json:"driven"`
	Name    string       `json:"name,omitempty"` // none of the shop's: the ratio that is needed
	Ratio   exact.Number `json:"ratio"`
	Percent float64      `json:"percent"`
	Text    string       `json:"text"`
}

// MechanicalAnswer is the whole grid with its picks.
type MechanicalAnswer struct {
	Constant     exact.Number  `json:"constant"`
	Per          Per           `json:"per"`
	TurnsPerKM   exact.Number  `json:"turns_per_km"`
	TurnsPerMile exact.Number  `json:"turns_per_mile"`
	Ideal        []Ideal       `json:"ideal"`
	Cells        []Cell        `json:"cells"`
	Picks        []Pick        `json:"picks"`
	Fitted       *Cell         `json:"fitted,omitempty"`
	Adapters     []AdapterPick `json:"adapters"`
	Housings     []Housing     `json:"housings"` // that were considered
	Notes        []string      `json:"notes"`
	Formula      string        `json:"formula"`
	// Common: the grid shows commonly made counts, none of the shop's.
	Common bool `json:"common,omitempty"`
	// Families to choose among, where that is open.
	Families []string `json:"families,omitempty"`
}

// Bounds of a question; the contract has the same.
const (
	MaxSpeeds = 10
	MaxGears  = 100 // of one kind
	MaxRuns   = 50
	MaxNoted  = 200
)

func (m *Mechanical) settle(errs *fault.Errors) {
	if len(m.SpeedsKMH) == 0 {
		m.SpeedsKMH = []float64{50, 80, 110}
	}
	if len(m.SpeedsKMH) > MaxSpeeds {
		errs.Add("mechanical/speeds_kmh", "at most %d speeds", MaxSpeeds)
	}
	for i, v := range m.SpeedsKMH {
		if !(v >= 1 && v <= 500) {
			errs.Add(fmt.Sprintf("mechanical/speeds_kmh/%d", i), "from 1 to 500 km/h (311 mph)")
		}
	}
	if m.Per == "" {
		m.Per = PerMile
	}
	if m.Per != PerMile && m.Per != PerKM {
		errs.Add("mechanical/per", "mile or km")
	}
	if m.Constant.IsZero() {
		m.Constant = exact.Figure{Number: exact.Int(DefaultConstant)}
		if m.Per == PerKM {
			m.Constant = exact.Figure{Number: exact.Int(DefaultConstant).Div(mileByKM)}
		}
	}
	if m.Constant.Cmp(exact.Int(50)) < 0 || m.Constant.Cmp(exact.Int(20000)) > 0 {
		errs.Add("mechanical/constant", "cable turns, from 50 to 20000; 1000 a mile is common")
	}
	check := func(field string, list []Gear) {
		if len(list) > MaxGears {
			errs.Add(field, "at most %d gears", MaxGears)
		}
		for i, g := range list {
			if g.Teeth < 3 || g.Teeth > 100 {
				errs.Add(fmt.Sprintf("%s/%d/teeth", field, i), "from 3 to 100 teeth")
			}
		}
	}
	check("mechanical/drives", m.Drives)
	check("mechanical/driven", m.Driven)
	for field, n := range map[string]int{"housings": len(m.Housings), "adapters": len(m.Adapters)} {
		if n > MaxGears {
			errs.Add("mechanical/"+field, "at most %d", MaxGears)
		}
	}
	for i, h := range m.Housings {
		if h.TakesFrom < 1 || h.TakesTo < h.TakesFrom {
			errs.Add(fmt.Sprintf("mechanical/housings/%d/takes_to", i), "a housing takes from a smaller to a greater number of teeth")
		}
	}
	for i, a := range m.Adapters {
		if a.Ratio.Sign() <= 0 {
			errs.Add(fmt.Sprintf("mechanical/adapters/%d/ratio", i), "cable turns out per turn in, above 0")
		}
	}
	if (m.FittedDrive > 0) != (m.FittedTeeth > 0) {
		errs.Add("mechanical/fitted_driven", "enter both the installed drive gear and driven gear, or neither")
	}
	for name, t := range map[string]int{"fitted_drive": m.FittedDrive, "fitted_driven": m.FittedTeeth} {
		if t != 0 && (t < 3 || t > 100) {
			errs.Add("mechanical/"+name, "from 3 to 100 teeth")
		}
	}
}

// perMile is the cable constant in turns per mile.
func (m *Mechanical) perMile() exact.Number {
	if m.Per == PerKM {
		return m.Constant.Mul(mileByKM)
	}
	return m.Constant.Number
}

// MaxPairs is how many pairs of drive and driven tooth counts are compared at
// once; no family of gears comes near it.
const MaxPairs = 2000

// Gears answers for a mechanical speedometer (ideal driven teeth = drive
// teeth · shaft turns per mile ÷ cable turns per mile).
func Gears(s Shaft, m Mechanical) (*MechanicalAnswer, error) {
	if err := fault.Figures(m); err != nil {
		return nil, err
	}
	var errs fault.Errors
	m.settle(&errs)
	if err := errs.Err(); err != nil {
		return nil, err
	}
	a := &MechanicalAnswer{Constant: m.Constant.Number, Per: m.Per, Ideal: []Ideal{}, Cells: []Cell{}, Picks: []Pick{}, Adapters: []AdapterPick{}, Housings: []Housing{}, Notes: []string{}}
	a.TurnsPerKM = s.PerMeter.Mul(exact.Int(1000))
	a.TurnsPerMile = a.TurnsPerKM.Mul(mileByKM)
	a.Formula = s.Formula
	constant := m.perMile()
	common := len(m.Drives) == 0 && len(m.Driven) == 0
	a.Families = m.Families
	switch a.Common = common; {
	case common && len(m.Families) > 1:
		m.Drives, m.Driven = CommonGears()
		a.Notes = append(a.Notes, fmt.Sprintf("Shown with commonly made counts: the shop has gears of %s, which don't go "+
			"together. Choose the family to see what is on the shelf.", strings.Join(m.Families, " and ")))
	case common:
		m.Drives, m.Driven = CommonGears()
		a.Notes = append(a.Notes, "The shop's lists hold no speedometer gears for this yet, so commonly made counts are "+
			"shown. Ask whether a gear of that count is made for this part, and which housing takes it. Enter the shop's "+
			"own gears, or import a starter list, under Shop.")
	}
	drives, driven := teethOf(m.Drives, m.FittedDrive), teethOf(m.Driven, m.FittedTeeth)
	if n := len(drives) * len(driven); n > MaxPairs {
		return nil, fault.New("mechanical/driven", "%d drive and %d driven tooth counts make %d pairs; at most %d are compared at once: choose the family of gears", len(drives), len(driven), n, MaxPairs)
	}
	for _, d := range drives {
		id := exact.Int(int64(d.Teeth)).Mul(a.TurnsPerMile).Div(constant)
		a.Ideal = append(a.Ideal, Ideal{d.Teeth, id, fmt.Sprintf("%d × %s turns per mile ÷ %s = %s teeth", d.Teeth, a.TurnsPerMile.Short(2), constant.Short(2), id.Short(2))})
		for _, v := range driven {
			a.Cells = append(a.Cells, m.cell(s, a.TurnsPerMile, constant, d, v))
		}
	}
	if m.FittedDrive > 0 {
		c := m.cell(s, a.TurnsPerMile, constant, Gear{Teeth: m.FittedDrive, Shelf: 1}, Gear{Teeth: m.FittedTeeth, Shelf: 1})
		a.Fitted = &c
	}
	a.Housings = append(a.Housings, m.Housings...)
	a.pick(m, s)
	a.adapt(m, constant)
	if s.Low != nil {
		a.Notes = append(a.Notes, fmt.Sprintf("The take-off is ahead of the low range: in low the speedometer reads %s "+
			"times too high.", s.Low.Div(s.PerMeter).Short(2)))
	}
	if s.Spread > 0 && s.byTire() {
		a.Notes = append(a.Notes, tireSpreadNote(s))
	}
	for _, h := range m.Housings {
		if h.MarkedTo > 0 && (h.MarkedTo < h.TakesTo || h.MarkedFrom > h.TakesFrom) {
			a.Notes = append(a.Notes, housingNote(h))
		}
	}
	colored := false
	for _, g := range append(append([]Gear{}, m.Drives...), m.Driven...) {
		colored = colored || g.Color != ""
	}
	if colored {
		a.Notes = append(a.Notes, "Colors are a hint only: replacement gears are often colored wrong. Count.")
	}
	return a, nil
}

// CommonGears are tooth counts that are commonly made; they lie on no shelf.
func CommonGears() (drives, driven []Gear) {
	for n := 6; n <= 10; n++ {
		drives = append(drives, Gear{Teeth: n})
	}
	for n := 14; n <= 26; n++ {
		driven = append(driven, Gear{Teeth: n})
	}
	return drives, driven
}

// teethOf lists gears by tooth count, each count once, with what is fitted.
func teethOf(list []Gear, fitted int) []Gear {
	by := map[int]Gear{}
	for _, g := range list {
		if old, ok := by[g.Teeth]; !ok || g.Shelf > old.Shelf {
			by[g.Teeth] = g
		}
	}
	if fitted > 0 {
		g := by[fitted]
		g.Teeth, g.Shelf = fitted, max(1, g.Shelf)
		by[fitted] = g
	}
	out := make([]Gear, 0, len(by))
	for _, g := range by {
		out = append(out, g)
	}
	sort.Slice(out, func(i, k int) bool { return out[i].Teeth < out[k].Teeth })
	return out
}

func (m *Mechanical) cell(s Shaft, perMile, constant exact.Number, drive, driven Gear) Cell {
	cable := perMile.Mul(exact.New(int64(drive.Teeth), int64(driven.Teeth)))
	ratio := cable.Div(constant)
	c := Cell{Drive: drive.Teeth, Driven: driven.Teeth, Error: ratio.Sub(one), Housings: []string{}, Held: len(m.Housings) == 0, Reads: []Reads{}}
	c.Percent = say.Round(c.Error.Float()*100, 4)
	c.Mark, c.Words = markOf(c.Error)
	housed := false
	for _, h := range m.Housings {
		if driven.Teeth >= h.TakesFrom && driven.Teeth <= h.TakesTo {
			c.Housings = append(c.Housings, h.Name)
			c.Held = true
			housed = housed || h.Shelf > 0
		}
	}
	c.Shelf = drive.Shelf > 0 && driven.Shelf > 0 && (housed || len(m.Housings) == 0 || driven.Teeth == m.FittedTeeth)
	for _, v := range m.SpeedsKMH {
		_, most := Allowed(v)
		c.Reads = append(c.Reads, Reads{v, say.Round(v*ratio.Float(), 2), say.Round(most, 2)})
	}
	c.Formula = fmt.Sprintf("%s turns per mile × %d ÷ %d = %s cable turns, %s needed: %s %%", perMile.Short(2),
		drive.Teeth, driven.Teeth, cable.Short(2), constant.Short(2), say.Signed(c.Percent, 2))
	return c
}

// pick chooses pairs that don't read low and that a housing holds.
func (a *MechanicalAnswer) pick(m Mechanical, s Shaft) {
	spread := s.Spread
	choose := func(which, why string, ok func(Cell) bool) {
		var best *Cell
		for i := range a.Cells {
			c := &a.Cells[i]
			if c.Mark == MarkLow || c.Mark == MarkHigh || !c.Held || !ok(*c) {
				continue
			}
			if best == nil || c.Error.Cmp(best.Error) < 0 || (c.Error.Equal(best.Error) && easier(*c, *best, m.FittedDrive)) {
				best = c
			}
		}
		if best != nil {
			a.Picks = append(a.Picks, Pick{which, *best, why})
		}
	}
	choose("best", "The smallest error that does not read low.", func(Cell) bool { return true })
	if len(a.Picks) == 0 {
		a.legal()
	}
	a.nearest(m, s)
	choose("shelf", "The best of what is on the shelf.", func(c Cell) bool { return c.Shelf })
	if len(a.Picks) > 0 && a.Picks[0].Which == "best" && a.Picks[0].Cell.Percent < spread {
		choose("sure", map[bool]string{
			true:  notLowByTire(spread),
			false: notLowByRatios(spread),
		}[s.byTire()],
			func(c Cell) bool { return c.Percent >= spread })
	}
	if m.FittedDrive > 0 {
		choose("keep_drive", "The best with the installed drive gear: only the driven gear changes, from outside.",
			func(c Cell) bool { return c.Drive == m.FittedDrive })
	}
}

// legal picks the least that doesn't read low, beyond what is usable but still within
// what the needle may show.
func (a *MechanicalAnswer) legal() {
	var best *Cell
	for i := range a.Cells {
		c := &a.Cells[i]
		if c.Mark != MarkHigh || !c.Held || best != nil && c.Error.Cmp(best.Error) >= 0 {
			continue
		}
		if !slices.ContainsFunc(c.Reads, func(r Reads) bool { return r.Shown > r.AllowedTo }) {
			best = c
		}
	}
	if best != nil {
		a.Picks = append(a.Picks, Pick{"least_high", *best, "The least that doesn't read low. It reads more than is comfortable, but within what UN Regulation 39 lets a needle show at these speeds."})
	}
}

// nearest is the other school: the smallest error to either side. Where the tire is
// not known that well, which of the two is right can't be told yet.
func (a *MechanicalAnswer) nearest(m Mechanical, s Shaft) {
	var best *Cell
	off := func(c *Cell) float64 { return math.Abs(c.Error.Float()) }
	for i := range a.Cells {
		if c := &a.Cells[i]; c.Held && (best == nil || off(c) < off(best)-1e-12 || off(c) <= off(best)+1e-12 && easier(*c, *best, m.FittedDrive)) {
			best = c
		}
	}
	if best == nil || best.Mark != MarkLow {
		return // the same as never low
	}
	size := say.Trim(-best.Percent, 2)
	if -best.Percent > usableTo {
		return
	}
	why := fmt.Sprintf("The nearest to true. It reads %s %% low, and a needle that reads low is not legal in most places.", size)
	cell := *best
	within := -best.Percent <= s.Spread
	switch {
	case within && s.byTire():
		cell.Words = "reads " + size + " % low, less than the tire is known to"
		why = fmt.Sprintf("The nearest to true. It reads %s %% low by a tire known to ± %s %% only: roll the tire out "+
			"loaded before choosing between this pair and the one that reads high.", size, say.Trim(s.Spread, 1))
		a.Notes = append(a.Notes, "Measure the tire first: "+strings.ToLower(why[:1])+why[1:])
	case within:
		cell.Words = "true, as far as the ratios are known"
		why = fmt.Sprintf("By the figures it reads %s %% low, less than the rounding of the axle ratios (± %s %%). Enter them "+
			"as teeth, such as 41/11, to be sure.", size, say.Trim(s.Spread, 2))
	}
	a.Picks = append(a.Picks, Pick{"nearest", cell, why})
	if within && !s.byTire() {
		// What no needle shows comes first.
		last := len(a.Picks) - 1
		a.Picks = append([]Pick{a.Picks[last]}, a.Picks[:last]...)
	}
}

// byTire is whether the spread is the tire's.
func (s Shaft) byTire() bool { return s.Known == "" || strings.Contains(s.Known, "tire") }

// easier reports whether one of two pairs that read alike is less work: what
// is on the shelf, then what leaves the drive gear in.
func easier(a, b Cell, drive int) bool {
	if a.Shelf != b.Shelf {
		return a.Shelf
	}
	return a.Drive == drive && b.Drive != drive
}

// adapt gives the box that makes a pair true where no pair is.
func (a *MechanicalAnswer) adapt(m Mechanical, constant exact.Number) {
	if len(a.Cells) == 0 || slices.ContainsFunc(a.Picks, func(p Pick) bool { return p.Cell.Mark == MarkGood || p.Cell.Mark == MarkUsable }) {
		return
	}
	held := func(c Cell) bool { return c.Held }
	any := false
	for _, c := range a.Cells {
		any = any || held(c)
	}
	var best *AdapterPick
	var near *Cell
	for i := range a.Cells {
		c := &a.Cells[i]
		if any && !c.Held {
			continue
		}
		if near == nil || math.Abs(math.Log(c.Error.Add(one).Float())) < math.Abs(math.Log(near.Error.Add(one).Float())) {
			near = c
		}
		for _, x := range m.Adapters {
			e := c.Error.Add(one).Mul(x.Ratio.Number).Sub(one)
			pct := e.Float() * 100
			if e.Sign() < 0 || pct > usableTo || (best != nil && pct >= best.Percent) {
				continue
			}
			best = &AdapterPick{Drive: c.Drive, Driven: c.Driven, Name: x.Name, Ratio: x.Ratio.Number, Percent: say.Round(pct, 4)}
		}
	}
	if m.FittedDrive > 0 && a.Fitted != nil {
		near = a.Fitted
	}
	if best != nil {
		best.Text = adapterText(best)
		a.Adapters = append(a.Adapters, *best)
	}
	r := near.Error.Add(one).Inv()
	a.Adapters = append(a.Adapters, AdapterPick{Drive: near.Drive, Driven: near.Driven, Ratio: r,
		Text: adapterWanted(near, r)})
}
