// Package match compares the outputs of a transfer case, or of an inter-axle
// differential, over the road: whether front and rear turn alike per meter, and
// what it means where they don't.
package match

import (
	"fmt"
	"math"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/exact"
	"zorvel/core/say"
)

var one = exact.Int(1)

// Match compares the two outputs of a transfer case, or of an inter-axle
// differential, over the road.
type Match struct {
	Part    string `json:"part"`
	Type    string `json:"type"` // how the two share
	Verdict string `json:"verdict"`
	Level   string `json:"level"` // match, tolerated, caution, wrong, unknown
	// Mismatch is how many more turns (a part, not %) the second output
	// (front, or through) needs per meter than the first.
	Mismatch *exact.Number `json:"mismatch,omitempty"`
	Percent  *float64      `json:"percent,omitempty"`
	First    *exact.Number `json:"first,omitempty"`  // turns per meter
	Second   *exact.Number `json:"second,omitempty"` // turns per meter
	Formula  string        `json:"formula"`
	Do       string        `json:"do"`
	// Rubbing is how many rpm the two outputs differ at 80 km/h.
	Rubbing *float64 `json:"rubbing_rpm,omitempty"`
	// Others are the comparisons at the other places where power parts, on a
	// vehicle with more than two driven axles.
	Others []*Match `json:"others,omitempty"`

	ends string // what is compared: "front and rear", or two axles by name
}

// Of compares both sides of every part that splits power between axles.
// The one that is furthest from right is returned, the others hang on it.
func Of(m *driveline.Machine) *Match {
	d := m.Doc
	var all []*Match
	for i := range d.Parts {
		p := &d.Parts[i]
		if b := p.Between(); b != nil {
			all = append(all, compare(m, p, b))
		}
	}
	if len(all) == 0 {
		return nil
	}
	worst := 0
	for i, x := range all {
		if x.rank() > all[worst].rank() {
			worst = i
		}
	}
	out := all[worst]
	for i, x := range all {
		if i != worst {
			out.Others = append(out.Others, x)
		}
	}
	return out
}

// rank orders comparisons: what is wrong before what isn't known.
func (m *Match) rank() int {
	return map[string]int{"match": 0, "tolerated": 1, "unknown": 2, "caution": 3, "wrong": 4}[m.Level]
}

// At is the comparison made at a part, or nil.
func (m *Match) At(part string) *Match {
	if m == nil || m.Part == part {
		return m
	}
	for _, o := range m.Others {
		if o.Part == part {
			return o
		}
	}
	return nil
}

// turnsOf is how many turns a shaft makes per meter of road, with the
// arithmetic; value is nil where something below is not known.
type turnsOf struct {
	value   *exact.Number
	words   string
	missing []string
}

func (t turnsOf) times(r exact.Number, words string) turnsOf {
	if t.value != nil {
		v := t.value.Mul(r)
		t.value, t.words = &v, words+" × "+t.words
	}
	return t
}

// mean is what the input of a split turns: the mean of both sides, weighted by
// the teeth of a planetary one.
func mean(a, b turnsOf, wa, wb exact.Number) turnsOf {
	if a.value == nil || b.value == nil {
		return turnsOf{missing: append(a.missing, b.missing...)}
	}
	if a.value.Equal(*b.value) {
		return a
	}
	v := a.value.Mul(wa).Add(b.value.Mul(wb)).Div(wa.Add(wb))
	words := "mean of (" + a.words + ") and (" + b.words + ")"
	if !wa.Equal(wb) {
		words = fmt.Sprintf("(%s × (%s) + %s × (%s)) ÷ %s", wa.Short(0), a.words, wb.Short(0), b.words, wa.Add(wb).Short(0))
	}
	return turnsOf{value: &v, words: words}
}

// perMeter is how many turns an output makes per meter of road. Through a
// differential further on it is the mean of its sides.
func perMeter(m *driveline.Machine, port string) turnsOf {
	d := m.Doc
	var p *driveline.Part
	for i := range d.Parts {
		if d.Parts[i].From == port {
			p = &d.Parts[i]
		}
	}
	if p == nil {
		return turnsOf{missing: []string{"wheels"}}
	}
	if p.Wheel != nil {
		if p.Wheel.RollingMM.IsZero() {
			return turnsOf{missing: []string{driveline.Of(p, "tire")}}
		}
		v := one.Div(driveline.Travel(p))
		return turnsOf{value: &v, words: "1 ÷ " + driveline.Travel(p).Short(4) + " m"}
	}
	sides := p.Sides()
	below := perMeter(m, p.Output(sides[0].Port))
	if len(sides) > 1 {
		below = mean(below, perMeter(m, p.Output(sides[1].Port)), sides[0].Weight, sides[1].Weight)
	}
	if p.Has(driveline.FinalDrive) && len(below.missing) > 0 && below.missing[0] == "wheels" {
		below.missing[0] = driveline.Of(p, "wheel")
	}
	does := m.Passes(p)
	if !does.Known {
		return turnsOf{missing: append(below.missing, say.Small(p.Called()))}
	}
	if r := does.Ratio.Abs(); !r.Equal(one) {
		below = below.times(r, r.Short(4))
	}
	return below
}

// compare compares both sides of a part.
func compare(m *driveline.Machine, p *driveline.Part, split *driveline.Between) *Match {
	out := &Match{Part: p.ID, Level: "unknown", Type: split.Type, ends: split.Ends}
	first, second := p.Output(split.First), p.Output(split.Second)
	if out.ends == "" {
		out.ends = sideName(m.Doc, first) + " and " + sideName(m.Doc, second)
	}
	extra, extraKnown, extraWords := split.Drive, split.Known, ""
	if extraKnown && !extra.Equal(one) {
		extraWords = extra.Short(4) + " (" + split.Words + ") × "
	}
	a, b := perMeter(m, first), perMeter(m, second)
	if !extraKnown {
		b.missing = append(b.missing, driveline.Of(p, split.Missing))
	}
	if a.value == nil || b.value == nil || !extraKnown {
		seen := map[string]bool{}
		var list []string
		for _, x := range append(a.missing, b.missing...) {
			if !seen[x] {
				seen[x] = true
				list = append(list, x)
			}
		}
		out.Verdict = notKnown(out)
		out.Formula = "not known: " + strings.Join(list, ", ")
		out.Do = "Measure: " + strings.Join(list, ", ") + "."
		return out
	}
	bb := b.value.Mul(extra)
	out.judge(*a.value, bb)
	out.Formula = fmt.Sprintf("%s%s = %s turns per meter against %s = %s: %s %%", extraWords, b.words, bb.Short(5), a.words, a.value.Short(5), signed(*out.Percent))
	return out
}

// Scaled is the same comparison with other gears or tires: both ends' turns
// per meter multiplied. The words name what makes the new ends.
func (m *Match) Scaled(first, second exact.Number, firstWords, secondWords string) *Match {
	if m == nil || m.First == nil || m.Second == nil {
		return m
	}
	out := &Match{Part: m.Part, Type: m.Type, ends: m.ends}
	a, b := m.First.Mul(first), m.Second.Mul(second)
	out.judge(a, b)
	out.Formula = fmt.Sprintf("%s: %s turns per meter against %s: %s: %s %%", secondWords, b.Short(5), firstWords, a.Short(5), signed(*out.Percent))
	return out
}

// As is the same comparison with another center between the ends.
func (m *Match) As(center string) *Match {
	if m == nil || m.First == nil || m.Second == nil {
		return m
	}
	out := &Match{Part: m.Part, Type: center, ends: m.ends, Formula: m.Formula}
	out.judge(*m.First, *m.Second)
	return out
}

// equalTires is how far tires of one size roll apart by wear and pressure, in
// percent: two millimeters of tread on a tire of 750 mm are half a percent, a
// fifth of the pressure about as much. A difference of gears below it can't be
// told from one of tires.
const equalTires = 0.7

// judge puts the verdict on turns per meter of both ends.
func (out *Match) judge(a, bb exact.Number) {
	kind, ends := out.Type, out.ends
	mis := bb.Div(a).Sub(one)
	pct := mis.Float() * 100
	out.First, out.Second, out.Mismatch, out.Percent = &a, &bb, &mis, &pct
	// 80 km/h is 80000/60 meters per minute.
	rub := math.Abs(bb.Sub(a).Float()) * 80000 / 60
	out.Rubbing = &rub
	abs := math.Abs(pct)
	size := say.Trim(abs, 2) + " %"
	if abs > 0 && abs < 0.01 {
		size = "under 0.01 %"
	}
	switch {
	case mis.IsZero():
		out.Level = "match"
		out.Verdict = exactMatch(ends)
		out.Do = "Change one end, change the other."
	case kind == "part_time":
		out.Level = "tolerated"
		out.Verdict = lockedApart(ends, size)
		out.Do = "Practice varies between \"must match\" and \"within one percent\". Lock in the front on loose ground only."
		if abs > 1 {
			out.Level = "wrong"
			out.Do = "More than one percent: bring front and rear together before the front is locked in."
		}
	case kind == "solid" && abs <= equalTires+1e-9:
		out.Level = "tolerated"
		out.Verdict = solidTolerated(ends, size)
		out.Do = "Leave the gears. Keep tires of one make, wear and pressure at both ends."
	case kind == "solid":
		out.Level = "wrong"
		out.Verdict = solidWrong(ends, size)
		out.Do = "Use the same pair and the same tires at both ends."
	default:
		out.Level = "tolerated"
		out.Verdict = centerWorks(ends, size, rub)
		out.Do = "Some makers build several percent in. Count the case's own front and rear outputs before blaming the axles."
		if abs > 1 {
			out.Level = "caution"
			out.Do = "Above one percent: expect heat and wear in the differential, and a bind as soon as it is locked. " + out.Do
		}
	}
}

func signed(f float64) string {
	s := say.Trim(f, 3)
	if f > 0 {
		return "+" + s
	}
	return strings.Replace(s, "-", "−", 1)
}

// Ends compares front and rear, or two axles, over the road; nil where nothing
// splits power between them.
func Ends(d *driveline.Document) *Match { return Of(driveline.Build(d, &driveline.State{})) }
