package practice

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/identify"
	"zorvel/core/say"
)

// clean is a reading that could be taken here, read rightly, with what it takes beside
// the work that several share.
type clean struct {
	words   string
	reading identify.Reading
	minutes float64
	needs   need
}

// need is work that readings share: a unit is lifted once, and opened once.
type need uint8

const (
	needSides need = 1 << iota // both wheels up, or the output free
	needSide                   // one wheel up
	needOpen
)

// minutes of the work that is needed.
func (u *ratioUnit) shared(n need) float64 {
	t := 0.0
	if n != 0 && n != needOpen {
		t += minutesMark
		switch {
		case u.boat():
			t += identify.MinutesReady + minutesLever
		case !u.wheels():
			t += minutesChock + identify.MinutesReady + 2*minutesLever
		case n&needSides != 0:
			t += minutesChock + 2*(minutesLift+minutesStands) + 2*minutesLever
		default:
			t += minutesChock + minutesLift + minutesStands + 2*minutesLever
		}
	}
	if n&needOpen != 0 {
		t += identify.OpeningMinutes(u.stage.Kind)
		if n == needOpen {
			t += minutesChock
		}
	}
	return t
}

// cleans are the readings that can be taken of this unit.
func (u *ratioUnit) cleans() []clean {
	var out []clean
	if u.tag != "" {
		out = append(out, clean{"The tag says " + u.tag, identify.Reading{Method: identify.Tag, Text: u.tag},
			identify.MinutesTag, 0})
	}
	for _, n := range []int{1, 2, 4, 6, 8} {
		for _, by := range []identify.RemainderBy{identify.ByEye, identify.ByArc} {
			if u.stuck == "" {
				out = append(out, u.turned(n, by, true))
			}
			if u.wheels() && u.diff == openDiff {
				out = append(out, u.turned(n, by, false))
			}
		}
	}
	if len(u.con.Teeth) > 0 {
		r := identify.Reading{Method: identify.Teeth}
		minutes := minutesMark + minutesNote
		var words []string
		for i, g := range u.con.Teeth {
			r.Teeth = append(r.Teeth, identify.Count{Member: g.Name, Count: u.teeth[i]})
			minutes += identify.CountingMinutes(u.teeth[i])
			words = append(words, fmt.Sprintf("%s %d", g.Words, u.teeth[i]))
		}
		out = append(out, clean{"Teeth counted: " + say.And(words), r, minutes, needOpen})
	}
	if u.stamp != "" {
		out = append(out, clean{"Stamped " + u.stamp, identify.Reading{Method: identify.Stamp, Text: u.stamp},
			identify.MinutesStamp, needOpen})
	}
	return out
}

// turned is a careful reading by turning: the mark brought back n times, the input's
// partial turn to the twentieth by eye, to the millimeter along the rim.
func (u *ratioUnit) turned(n int, by identify.RemainderBy, all bool) clean {
	out := float64(n)
	carrier, needs, what := out, needSides, "both wheels"
	switch {
	case !u.wheels():
		what = strings.ToLower(u.machine().Outputs[0].Name)
	case !all:
		carrier, needs, what = out/2, needSide, "one wheel"
	}
	turns := u.ratio * carrier
	whole, part := math.Modf(turns)
	s := identify.Shaft{Whole: int(whole), Remainder: identify.Remainder{By: by}}
	how := "by eye"
	minutes := math.Max(minutesLeast, identify.TurningMinutes(turns)) + minutesNote
	if by == identify.ByArc {
		how = "along the rim"
		s.Remainder.RimMM, s.Remainder.RimIs = rimMM, identify.Circumference
		s.Remainder.ArcMM = math.Min(math.Round(part*rimMM), rimMM-1)
		minutes += identify.MinutesArc
	} else {
		s.Remainder.Fraction = math.Min(math.Round(part*20)/20, 0.95)
		minutes += identify.MinutesEye
	}
	r := identify.Reading{Method: identify.Bench, Bench: &identify.BenchReading{OutputTurns: out,
		Outputs: identify.SingleOutput, Shaft: s}}
	if u.wheels() {
		w := identify.Wheel{Turns: out, Seen: true}
		r = identify.Reading{Method: identify.Turns, Turns: &identify.TurnsReading{Left: w, Right: w, Shaft: s}}
		if !all {
			r.Turns.Right = identify.Wheel{Seen: true}
		}
	}
	return clean{fmt.Sprintf("Turned %s %s, partial turn %s: %s", what, say.Count(n, "turn"), how,
		say.Trim(s.Turned(), 2)), r, minutes, needs}
}

// A wrong set costs as much as so many minutes in the shop: a thousand dollars of gears at
// a hundred an hour.
const minutesWrong = 600.0

// settled is where another reading is needless: one wrong set in a hundred costs less than
// the next reading.
const settled = 0.985

// How many sets of readings are weighed, the quickest first.
const (
	mostWeighed      = 500
	mostWeighedLarge = 40 // of a space of many builds
	manyBuilds       = 20_000
)

// way is a set of readings and what it takes in all.
type way struct {
	of      []int
	minutes float64
}

// cheapest finds the readings that cost least, if each is read rightly: the minutes that
// they take, and the chance left of a wrong set in minutes. Sets are weighed, the quickest
// first, until the next takes longer than the best one costs in all.
func (u *ratioUnit) cheapest() ([]clean, float64, error) {
	all := u.cleans()
	most := mostWeighed
	if n, _ := u.sp.Size(); n > manyBuilds {
		most = mostWeighedLarge
	}
	var best []clean
	least := minutesWrong
	for i, w := range u.ways(all) {
		if i >= most || w.minutes >= least {
			break
		}
		list := pick(all, w.of)
		wrong, err := u.wrong(list)
		if err != nil {
			return nil, 0, err
		}
		if cost := w.minutes + wrong*minutesWrong; cost < least {
			best, least = list, cost
		}
	}
	return best, u.takes(best), nil
}

// ways are sets of one or two readings, with and without the tag, by time.
func (u *ratioUnit) ways(all []clean) []way {
	var out []way
	add := func(of ...int) { out = append(out, way{of, u.takes(pick(all, of))}) }
	for i := range all {
		add(i)
		for k := i + 1; k < len(all); k++ {
			add(i, k)
			if u.tag == "" || i == 0 {
				continue
			}
			add(0, i, k)
		}
	}
	slices.SortStableFunc(out, func(a, b way) int { return cmp.Compare(a.minutes, b.minutes) })
	return out
}

func pick(all []clean, of []int) []clean {
	out := make([]clean, len(of))
	for k, i := range of {
		out[k] = all[i]
	}
	return out
}

// takes is what a set of readings takes, the shared work once.
func (u *ratioUnit) takes(list []clean) float64 {
	t, n := 0.0, need(0)
	for _, c := range list {
		t += c.minutes
		n |= c.needs
	}
	return t + u.shared(n)
}

// wrong is the chance that is left of ordering another label than the true one.
func (u *ratioUnit) wrong(list []clean) (float64, error) {
	l, err := u.leads(list)
	if err != nil || l.Label != u.label {
		return 1, err
	}
	return 1 - l.Probability, nil
}

func (u *ratioUnit) leads(list []clean) (identify.LabelChance, error) {
	rs := make([]identify.Reading, len(list))
	for i, c := range list {
		rs[i] = c.reading
		rs[i].ID = strconv.Itoa(i + 1)
	}
	a, err := identify.Assess(u.sp, rs)
	if err != nil {
		return identify.LabelChance{}, err
	}
	return a.Leads(), nil
}

// answers reads what is ordered, a ratio or both tooth counts, as the label of its ratio.
func (u *ratioUnit) answers(text string) (string, error) {
	marks, err := identify.ParseMark(text, u.stage)
	if err != nil || len(marks) == 0 {
		return "", fault.New("answer", "a ratio or both tooth counts, for example 4.10 or 41/10")
	}
	if v, err := strconv.ParseFloat(strings.ReplaceAll(strings.TrimSpace(text), ",", "."), 64); err == nil && v > 0 && v < 100 {
		return strconv.FormatFloat(v, 'f', 2, 64), nil
	}
	if m := marks[0]; len(m.Counts) == 2 {
		return exact.New(int64(m.Counts[0]), int64(m.Counts[1])).Label(), nil
	}
	return "", fault.New("answer", "a ratio or both tooth counts, for example 4.10 or 41/10")
}

func (u *ratioUnit) review(a Act, log []Done) (*Review, error) {
	answer, err := u.answers(a.Answer)
	if err != nil {
		return nil, err
	}
	r := &Review{Right: answer == u.label, Truth: u.label, Answer: answer, Steps: []Finding{}, Best: []Finding{},
		Mistakes: []Mistake{}}
	enough, err := u.retrace(r)
	if err != nil {
		return nil, err
	}
	best, minutes, err := u.cheapest()
	if err != nil {
		return nil, err
	}
	r.Cheapest = minutes
	for i := range best {
		l, err := u.leads(best[:i+1])
		if err != nil {
			return nil, err
		}
		r.Best = append(r.Best, Finding{best[i].words, meaning(l), say.Round(u.takes(best[:i+1]), 1)})
	}
	u.judge(r, a, enough)
	r.forgot(log)
	return r, nil
}

// retrace weighs the learner's own readings one after the other, and gives the first
// after which the label was settled; none is -1.
func (u *ratioUnit) retrace(r *Review) (int, error) {
	first := -1
	var rs []identify.Reading
	for i, n := range u.read {
		rs = append(rs, n.reading)
		a, err := identify.Assess(u.sp, rs)
		if err != nil {
			return first, err
		}
		l := a.Leads()
		if first < 0 && l.Probability >= settled {
			first = i
		}
		r.Steps = append(r.Steps, Finding{Words: say.Capital(n.reading.Summary()), Meaning: meaning(l)})
		if n.mistake != nil {
			r.Mistakes = append(r.Mistakes, *n.mistake)
		}
	}
	return first, nil
}

func meaning(l identify.LabelChance) string {
	if l.Probability >= settled {
		return "Settles it: " + l.Label + "."
	}
	return fmt.Sprintf("%s leads, %s.", l.Label, say.Chance(l.Probability))
}

// judge adds what was wrong with the way, and with how sure one was.
func (u *ratioUnit) judge(r *Review, a Act, enough int) {
	add := func(drill, format string, args ...any) {
		r.Mistakes = append(r.Mistakes, Mistake{fmt.Sprintf(format, args...), drill})
	}
	if u.tagLies && r.Answer == u.tag {
		add("", "The tag says %s and the gears are %s: tags outlive gears. Turn it before you order.", u.tag, u.label)
	}
	if n := len(u.read) - 1 - enough; enough >= 0 && n > 0 {
		add("", "%s after it was settled: the %s had settled it.", say.Capital(say.Count(n, "reading")),
			say.Ordinal(enough+1)+" reading")
	}
	if u.ready.open && !slices.ContainsFunc(r.Best, func(t Finding) bool {
		return strings.HasPrefix(t.Words, "Teeth") ||
			strings.HasPrefix(t.Words, "Stamp")
	}) {
		add("fewest", "The housing was opened, %s minutes, though turning would have settled it.",
			say.Trim(identify.OpeningMinutes(u.stage.Kind), 0))
	}
	if x, err := strconv.ParseFloat(r.Answer, 64); err == nil && !r.Right {
		for _, k := range []float64{0.5, 2} {
			if math.Abs(x/(k*u.ratio)-1) < 0.03 {
				add("wheels", "That is %s the ratio: one wheel turned and the other did not.",
					map[float64]string{0.5: "half", 2: "twice"}[k])
			}
		}
	}
	var sure float64
	if len(u.read) > 0 {
		var rs []identify.Reading
		for _, n := range u.read {
			rs = append(rs, n.reading)
		}
		if w, err := identify.Assess(u.sp, rs); err == nil {
			if l := w.Leads(); l.Label == r.Answer {
				sure = l.Probability
			}
		}
	}
	switch said := float64(a.Sure) / 100; {
	case said-sure > 0.25 && len(u.read) == 0:
		add("", "You said %d %% sure without a reading.", a.Sure)
	case said-sure > 0.25:
		add("", "You said %d %% sure; your readings make it %s.", a.Sure, say.Chance(sure))
	case r.Right && sure-said > 0.25:
		add("", "You said only %d %% sure; your readings make it %s.", a.Sure, say.Chance(sure))
	}
}
