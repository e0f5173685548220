// Package tire reads tire markings and works out how far a tire rolls in one
// turn.
//
// Lengths are millimeters and exact as far as they come from the marking: an
// inch is 25.4 mm, 225/75R16 is 25.4·16 + 2·225·0.75 = 743.9 mm across. A
// rolling circumference that comes from a factor is rounded to a micrometer.
package tire

import (
	"fmt"
	"math"
	"regexp"
	"strings"

	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
	"zorvel/core/typed"
)

// Construction is how a tire's carcass is laid.
type Construction string

// Constructions. A marking without a letter is read as bias.
const (
	Radial Construction = "radial"
	Bias   Construction = "bias"
)

// Source is where a rolling circumference comes from, best first.
type Source string

// Sources of a rolling circumference.
const (
	Rollout   Source = "rollout"   // rolled out on the floor, loaded
	Revs      Source = "revs"      // the maker's turns per kilometer or mile
	Factor    Source = "factor"    // 3.05·D radial, 2.99·D bias
	Geometric Source = "geometric" // π·D, as if the tire were not pressed flat
)

// The factors of rolling circumference over free diameter. The first two are
// the trade's (rolling under load, at rest pressure); the last is geometry.
const (
	RadialFactor = 3.05
	BiasFactor   = 2.99
)

// Tire is what is known of one tire.
type Tire struct {
	Marking string `json:"marking,omitempty"`
	// DiameterMM is the free diameter, if it was measured or has no marking.
	DiameterMM exact.Figure `json:"diameter_mm,omitzero"`
	// RolloutMM was rolled in RolloutTurns turns of the loaded wheel.
	RolloutMM    exact.Figure `json:"rollout_mm,omitzero"`
	RolloutTurns int          `json:"rollout_turns,omitempty"` // 1 if left out
	RevsPerKM    exact.Figure `json:"revs_per_km,omitzero"`
	RevsPerMile  exact.Figure `json:"revs_per_mile,omitzero"`
	// RollingMM is a rolling circumference that is known already, as a
	// driveline holds it; it counts like a rollout of unknown care.
	RollingMM exact.Figure `json:"rolling_mm,omitzero"`
	// Use picks a source; the best known one if it is empty.
	Use Source `json:"use,omitempty"`
	// Construction overrides what the marking says.
	Construction Construction `json:"construction,omitempty"`
	MassKG       float64      `json:"mass_kg,omitempty"` // of tire and rim together
}

// Known is one way to the rolling circumference.
type Known struct {
	Source  Source       `json:"source"`
	MM      exact.Number `json:"mm"`
	Spread  float64      `json:"spread_percent"` // ± of this way by itself, typical
	Formula string       `json:"formula"`
	Chosen  bool         `json:"chosen,omitempty"`
}

// Answer is what a tire comes to.
type Answer struct {
	Marking *Marking `json:"marking,omitempty"`
	// Sentence says what was understood.
	Sentence   string        `json:"sentence"`
	DiameterMM *exact.Number `json:"diameter_mm,omitempty"`
	WidthMM    *exact.Number `json:"width_mm,omitempty"`
	RimMM      *exact.Number `json:"rim_mm,omitempty"`
	// DiameterSpread is ± percent of an estimated diameter, 0 where the
	// marking fixes it (a worn or new tire still differs by about one).
	DiameterSpread float64      `json:"diameter_spread_percent"`
	RollingMM      exact.Number `json:"rolling_mm"`
	Source         Source       `json:"source"`
	Spread         float64      `json:"spread_percent"`
	Formula        string       `json:"formula"`
	Known          []Known      `json:"known"` // best first
	// Apart is how far the least and the greatest way are from each other, in
	// percent of the chosen.
	Apart       float64      `json:"apart_percent"`
	RevsPerKM   exact.Number `json:"revs_per_km"`
	RevsPerMile exact.Number `json:"revs_per_mile"`
	MassKG      float64      `json:"mass_kg,omitempty"`
	Notes       []string     `json:"notes"`
	Estimated   bool         `json:"estimated"`
	// BuildOpen: whether it is radial or bias isn't known, and is asked.
	BuildOpen bool `json:"build_open,omitempty"`
}

// MileMM is the international mile.
const MileMM = 1609344

var (
	kmMM   = exact.Int(1_000_000)
	mileMM = exact.Int(MileMM)
	hund   = exact.Int(100)
)

// Work answers for one tire. Faults are fault.Error or fault.Errors.
func Work(t Tire) (*Answer, error) {
	if err := fault.Figures(t); err != nil {
		return nil, err
	}
	var errs fault.Errors
	a := &Answer{Notes: []string{}, Known: []Known{}}
	if t.Construction != "" && t.Construction != Radial && t.Construction != Bias {
		errs.Add("construction", "radial or bias")
	}
	construction := a.mark(t, &errs)
	a.measure(t, &errs)
	a.reckon(construction)
	switch t.Use {
	case "", Rollout, Revs, Factor, Geometric:
	default:
		errs.Add("use", "rollout, revs, factor or geometric")
	}
	if t.MassKG < 0 || t.MassKG > 500 || math.IsNaN(t.MassKG) {
		errs.Add("mass_kg", "of one tire with its rim, from 0 to 500 kg")
	}
	if err := errs.Err(); err != nil {
		return nil, err
	}
	if len(a.Known) == 0 {
		return nil, fault.New("marking", "the marking on the sidewall is needed (225/75R16, 31x10.50R15, 7.50-16), or a measured diameter or rollout")
	}
	at, err := a.choose(t.Use)
	if err != nil {
		return nil, err
	}
	a.Known[at].Chosen = true
	c := a.Known[at]
	a.RollingMM, a.Source, a.Spread, a.Formula = c.MM, c.Source, c.Spread, c.Formula
	a.RevsPerKM, a.RevsPerMile = kmMM.Div(c.MM), mileMM.Div(c.MM)
	a.MassKG = t.MassKG
	a.compare()
	if a.Sentence == "" {
		a.Sentence = "A tire that rolls " + c.MM.Short(1) + " mm a turn."
	}
	return a, nil
}

// mark takes over what the marking says, and returns the construction to reckon
// with.
func (a *Answer) mark(t Tire, errs *fault.Errors) (construction Construction) {
	construction = t.Construction
	if d, ok := acrossOnly(t.Marking); ok {
		a.DiameterMM, a.DiameterSpread, a.Estimated = &d, 2, true
		a.Sentence = "A tire named by its height, " + d.Div(exact.New(254, 10)).Short(2) + " inches: about " + d.Short(1) + " mm across."
		a.Notes = append(a.Notes, "Tires of one such name differ by an inch and more. The whole marking, or a rollout, says it better.")
		a.BuildOpen = construction == ""
	} else if strings.TrimSpace(t.Marking) != "" {
		m, err := Parse(t.Marking)
		if err != nil {
			errs.Add("marking", "%s", err.(*fault.Error).Message)
		} else {
			said := construction == Radial || construction == Bias
			switch {
			case said && m.BuildOpen:
				m = m.closed(construction)
			case said && m.Construction != construction:
				a.Notes = append(a.Notes, "The marking says "+string(m.Construction)+", you say "+string(construction)+": what you say counts. Look at the sidewall again.")
			}
			a.Marking, a.Sentence = m, m.Sentence
			d, w, r := m.DiameterMM, m.WidthMM, m.RimMM
			a.DiameterMM, a.WidthMM, a.RimMM = &d, &w, &r
			a.DiameterSpread, a.Estimated = m.Spread, m.Spread > 0
			a.Notes = append(a.Notes, m.Notes...)
			if construction == "" {
				construction, a.BuildOpen = m.Construction, m.BuildOpen
			}
		}
	}
	return construction
}

// measure takes over what was measured and what the maker says.
func (a *Answer) measure(t Tire, errs *fault.Errors) {
	between := func(field string, v exact.Figure, lo, hi int64, unit string) bool {
		if v.IsZero() {
			return false
		}
		if v.Cmp(exact.Int(lo)) < 0 || v.Cmp(exact.Int(hi)) > 0 {
			errs.Add(field, "from %d to %d %s", lo, hi, unit)
			return false
		}
		return true
	}
	if between("diameter_mm", t.DiameterMM, 200, 4000, "mm") {
		d := t.DiameterMM.Number
		a.DiameterMM, a.DiameterSpread, a.Estimated = &d, 0.5, false
		if a.Sentence == "" {
			a.Sentence = "A tire " + d.Short(1) + " mm across."
		} else {
			a.Notes = append(a.Notes, "The diameter that was measured counts, not the marking's.")
		}
	}
	turns := t.RolloutTurns
	if turns == 0 {
		turns = 1
	}
	if turns < 1 || turns > 50 {
		errs.Add("rollout_turns", "whole turns of the wheel, from 1 to 50")
		turns = 1
	}
	if between("rollout_mm", t.RolloutMM, 500, 600_000, "mm") {
		mm := t.RolloutMM.Div(exact.Int(int64(turns)))
		if mm.Cmp(exact.Int(500)) < 0 || mm.Cmp(exact.Int(12_000)) > 0 {
			errs.Add("rollout_mm", "%s mm a turn is no tire; check the distance and the number of turns", mm.Short(0))
		} else {
			// Two floor marks at 3 mm each, over all turns; load and pressure 0.2 %.
			spread := math.Hypot(0.2, 300*math.Sqrt2/t.RolloutMM.Float())
			f := t.RolloutMM.Short(1) + " mm"
			if turns > 1 {
				f += " ÷ " + exact.Int(int64(turns)).String() + " turns"
			}
			a.Known = append(a.Known, Known{Source: Rollout, MM: mm, Spread: say.Round(spread, 2), Formula: f})
		}
	}
	if between("rolling_mm", t.RollingMM, 500, 12_000, "mm") && len(a.Known) == 0 {
		a.Known = append(a.Known, Known{Source: Rollout, MM: t.RollingMM.Number, Spread: 0.5,
			Formula: t.RollingMM.Short(1) + " mm, as saved with the driveline"})
	}
	if between("revs_per_km", t.RevsPerKM, 80, 2000, "turns per kilometer") {
		a.Known = append(a.Known, Known{Source: Revs, MM: kmMM.Div(t.RevsPerKM.Number), Spread: 1, Formula: "1 000 000 mm ÷ " + t.RevsPerKM.Short(2) + " turns per km"})
	}
	if between("revs_per_mile", t.RevsPerMile, 130, 3200, "turns per mile") {
		a.Known = append(a.Known, Known{Source: Revs, MM: mileMM.Div(t.RevsPerMile.Number), Spread: 1, Formula: "1 609 344 mm ÷ " + t.RevsPerMile.Short(2) + " turns per mile"})
	}
}

// reckon works the rolling out from the diameter.
func (a *Answer) reckon(construction Construction) {
	d := a.DiameterMM
	if d == nil {
		return
	}
	k, words := RadialFactor, "radial"
	if construction == Bias {
		k, words = BiasFactor, "bias"
	}
	spread := math.Hypot(1.5, a.DiameterSpread)
	if a.BuildOpen { // it may roll like a bias tire all the same
		words = "radial, if it is one"
		spread += (RadialFactor/BiasFactor - 1) * 100
	}
	a.Known = append(a.Known,
		Known{Source: Factor, MM: micro(d.Float() * k), Spread: say.Round(spread, 1), Formula: trim(k) + " (" + words + ") × " + d.Short(2) + " mm"},
		Known{Source: Geometric, MM: micro(d.Float() * math.Pi), Spread: say.Round(math.Hypot(3, a.DiameterSpread), 1), Formula: "π × " + d.Short(2) + " mm"})
}

// choose finds the source that counts: the one that was asked for, else the first.
func (a *Answer) choose(use Source) (at int, err error) {
	if use == "" {
		return 0, nil
	}
	for i, k := range a.Known {
		if k.Source == use {
			return i, nil
		}
	}
	return 0, fault.New("use", "%s", map[Source]string{
		Rollout:   "no rollout was measured: enter the distance and the turns",
		Revs:      "the maker's turns per kilometer or mile aren't entered",
		Factor:    "a marking or a diameter is needed for this",
		Geometric: "a marking or a diameter is needed for this",
	}[use])
}

// compare tells how far the sources are apart, and which don't belong together.
func (a *Answer) compare() {
	c := Known{Source: a.Source, MM: a.RollingMM}
	lo, hi := math.Inf(1), 0.0
	for _, k := range a.Known {
		lo, hi = math.Min(lo, k.MM.Float()), math.Max(hi, k.MM.Float())
	}
	a.Apart = say.Round((hi-lo)/c.MM.Float()*100, 2)
	if c.Source == Geometric {
		a.Notes = append(a.Notes, "A loaded tire is flattened at the ground and rolls about 3 % less than π times its diameter.")
	}
	for _, k := range a.Known {
		if (k.Source == Rollout || k.Source == Revs) && a.DiameterMM != nil {
			if r := k.MM.Float() / (a.DiameterMM.Float() * math.Pi); r > 1.01 || r < 0.90 {
				a.Notes = append(a.Notes, "The "+map[Source]string{Rollout: "rollout", Revs: "turns per distance"}[k.Source]+" and the marking don't belong together: "+trim(say.Round((r-1)*100, 1))+" % from π·D, where −1 to −5 % is usual. Check the count of turns and the unit.")
			}
		}
	}
}

var across = regexp.MustCompile(`^(\d{2}(?:[.,]\d{1,2})?)\s*(?:"|in\.?|inch|inches)(?:\s*tires?)?$`)

// acrossOnly reads a tire that is named by its height alone: 33".
func acrossOnly(marking string) (exact.Number, bool) {
	g := across.FindStringSubmatch(typed.Plain(marking))
	if g == nil {
		return exact.Number{}, false
	}
	n := inch(figure(strings.Replace(g[1], ",", ".", 1)))
	return n, between(n, 400, 1600)
}

func micro(mm float64) exact.Number { return exact.New(int64(math.Round(mm*1000)), 1000) }

// trim prints a float as short as it is, with a real minus.
func trim(f float64) string { return say.Trim(f, 6) }

// Change compares a new tire with an old one.
type Change struct {
	// Rolling is new ÷ old rolling circumference; above 1 acts as a taller gear.
	Rolling exact.Number `json:"rolling"`
	Percent float64      `json:"percent"`
	// TrueAt are true speeds at shown ones, if the needle was right before.
	TrueAt []TrueAt `json:"true_at"`
	// ReadsAt are shown speeds at true ones, if the needle was right before.
	ReadsAt []TrueAt `json:"reads_at"`
	// Restores are the ratios that would act as these do now: those most met.
	Restores []Restored `json:"restores"`
	// ClearanceMM is what the axle rises: half the difference of the free
	// diameters.
	ClearanceMM *float64 `json:"clearance_mm,omitempty"`
	WidthMM     *float64 `json:"width_mm,omitempty"`
	DiameterMM  *float64 `json:"diameter_mm,omitempty"`
	Spread      float64  `json:"spread_percent"`
	// Effective is what a ratio of 1 acts like: old ÷ new.
	Effective exact.Number `json:"effective"`
	// Head is the answer in a line.
	Head      string   `json:"head"`
	Sentences []string `json:"sentences"`
}

// Restored is a ratio, and the one that pulls like it on the new tire.
type Restored struct {
	Was  string `json:"was"`
	Like string `json:"like"`
}

// TrueAt is a true speed at a shown one, in the same unit.
type TrueAt struct {
	Shown float64 `json:"shown"`
	True  float64 `json:"actual"`
}

// Compare tells what changed from an old tire to a new one. Where an axle's ratio is
// given, it tells what would act as that one did; else as those most met did.
func Compare(old, fresh *Answer, axle ...exact.Number) *Change {
	c := &Change{Rolling: fresh.RollingMM.Div(old.RollingMM), TrueAt: []TrueAt{}, ReadsAt: []TrueAt{}, Restores: []Restored{}, Sentences: []string{}}
	c.Effective = c.Rolling.Inv()
	k := c.Rolling.Float()
	c.Percent = say.Round((k-1)*100, 4)
	for _, v := range []float64{30, 50, 80, 100, 120} {
		c.TrueAt = append(c.TrueAt, TrueAt{v, say.Round(v*k, 3)})
	}
	for _, v := range []float64{30, 50, 60, 80, 100} {
		c.ReadsAt = append(c.ReadsAt, TrueAt{say.Round(v/k, 3), v})
	}
	if len(axle) == 0 {
		axle = []exact.Number{exact.New(355, 100), exact.New(373, 100), exact.New(410, 100), exact.New(456, 100)}
	}
	for _, was := range axle {
		c.Restores = append(c.Restores, Restored{was.Decimal(2), was.Mul(c.Rolling).Decimal(2)})
	}
	if old.DiameterMM != nil && fresh.DiameterMM != nil {
		d := say.Round(fresh.DiameterMM.Sub(*old.DiameterMM).Float(), 3)
		h := d / 2
		c.DiameterMM, c.ClearanceMM = &d, &h
	}
	if old.WidthMM != nil && fresh.WidthMM != nil {
		w := say.Round(fresh.WidthMM.Sub(*old.WidthMM).Float(), 3)
		c.WidthMM = &w
	}
	// The two are as sure as both are; the same way with the same bias cancels.
	c.Spread = math.Hypot(old.Spread, fresh.Spread)
	if old.Source == fresh.Source && (old.Source == Factor || old.Source == Geometric) {
		c.Spread = math.Hypot(math.Hypot(old.DiameterSpread, fresh.DiameterSpread), 0.7)
		if old.BuildOpen || fresh.BuildOpen {
			c.Spread += (RadialFactor/BiasFactor - 1) * 100
		}
	}
	c.Spread = say.Round(c.Spread, 2)
	pct := trim(say.Round(math.Abs(c.Percent), 2)) + " %"
	switch {
	case math.Abs(c.Percent) < 0.05:
		c.Head = "Both roll alike: nothing changes."
		c.Sentences = append(c.Sentences, "Both roll alike: ratios, speedometer and odometer stay as they are.")
		if old.RimMM != nil && fresh.RimMM != nil && !old.RimMM.Equal(*fresh.RimMM) {
			c.Sentences = append(c.Sentences, "A larger rim with the same outside diameter changes nothing.")
		}
	case c.Percent > 0:
		c.Sentences = append(c.Sentences,
			"The new tire rolls "+pct+" more per turn and acts as a taller gear (numerically lower): "+c.actsLike(axle),
			"If the speedometer was right it now reads low; odometer and economy read low too, and the fuel range shows short.")
	default:
		c.Sentences = append(c.Sentences,
			"The new tire rolls "+pct+" less per turn and acts as a shorter gear (numerically higher): "+c.actsLike(axle),
			"If the speedometer was right it now reads high; odometer and economy read high too.")
	}
	if math.Abs(c.Percent) >= 0.05 {
		c.Head = c.head(axle)
		c.Sentences = append(c.Sentences, c.aloneSentences()...)
	}
	if old.Source != fresh.Source {
		c.Sentences = append(c.Sentences, "Old and new come from different sources ("+sourceWords[old.Source]+" and "+sourceWords[fresh.Source]+"); that alone can make up to 3 %.")
	}
	return c
}

// head is what changed at the needle and at the axle: that of the truck, or the one most
// met, 3.73.
func (c *Change) head(axle []exact.Number) string {
	r := c.Restores[min(1, len(axle)-1)]
	return fmt.Sprintf("At a true 60 the needle reads %s; %s would pull as %s did.",
		trim(say.Round(60/c.Rolling.Float(), 1)), r.Like, r.Was)
}

func (c *Change) actsLike(axle []exact.Number) string {
	was := axle[min(1, len(axle)-1)]
	return was.Decimal(2) + " acts like " + was.Mul(c.Effective).Decimal(2) + ", every ratio × " + c.Effective.Short(4) + "."
}

// aloneSentences are what two tires tell without a gearbox.
func (c *Change) aloneSentences() []string {
	out := []string{fmt.Sprintf("At a true 60 it reads %s; when it reads 60, the speed is %s (in either unit).", trim(say.Round(60/c.Rolling.Float(), 1)), trim(say.Round(60*c.Rolling.Float(), 1)))}
	if c.ClearanceMM != nil && math.Abs(*c.ClearanceMM) >= 0.5 {
		where := "higher"
		if *c.ClearanceMM < 0 {
			where = "lower"
		}
		out = append(out, fmt.Sprintf("The axle sits %s mm (%s in) %s.", trim(say.Round(math.Abs(*c.ClearanceMM), 0)), trim(say.Round(math.Abs(*c.ClearanceMM)/25.4, 1)), where))
	}
	like := make([]string, len(c.Restores))
	for i, r := range c.Restores {
		like[i] = r.Was + " would take " + r.Like
	}
	return append(out, "To pull and rev as before: "+strings.Join(like, ", ")+".")
}

var sourceWords = map[Source]string{Rollout: "rolled out", Revs: "the maker's turns", Factor: "rolling factor", Geometric: "π·D"}
