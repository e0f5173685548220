package live

import (
	"math"
	"slices"
)

// Condition is what a ratio rests on that no sensor showed.
type Condition string

// The conditions.
const (
	LeftStill  Condition = "left_still"  // its sensor gave nothing, as from a held wheel or a dead sensor
	RightStill Condition = "right_still" //
	OtherDid   Condition = "other_wheel" // a wheel without a sensor did as was said
	OneWay     Condition = "one_way"     // no sensor tells the direction: it wasn't turned back
)

// Trouble is what is wrong with what the sensors gave.
type Trouble string

// The troubles.
const (
	InputSilent  Trouble = "shaft_silent" // a source stopped while others went on
	LeftSilent   Trouble = "left_silent"
	RightSilent  Trouble = "right_silent"
	OutputSilent Trouble = "output_silent"
	Swapped      Trouble = "swapped"   // the input turned less than the wheels
	Unsteady     Trouble = "unsteady"  // too many marks missed or doubled
	NoInput      Trouble = "no_shaft"  // nothing watches the input, or it gave nothing
	NoOutput     Trouble = "no_output" // nothing watches a wheel or the output, or it gave nothing
	Opposite     Trouble = "opposite"  // the wheels turned against each other
)

// Ratio is the input's turns over the output's.
type Ratio struct {
	Best float64 `json:"best"`
	Low  float64 `json:"low"` // 95 %
	High float64 `json:"high"`
	// Input and Output turns that it rests on, and their spread as one standard
	// deviation of the input's.
	Input  float64 `json:"input"`
	Output float64 `json:"output"`
	Spread float64 `json:"spread"`
	// One mark of each side, in its turns; 0 for an angle.
	InputMark  float64 `json:"input_mark"`
	OutputMark float64 `json:"output_mark"`
	Events     int     `json:"events"` // marks at which both sides were known; 0 where it is bounds alone
	From       float64 `json:"from"`   // s
	To         float64 `json:"to"`
	// Conditions without which it doesn't hold.
	Conditions []Condition `json:"conditions"`
	Origin     []string    `json:"origin"`
}

// Answer is a recording weighed.
type Answer struct {
	Counts   []Count   `json:"counts"`
	Ratio    *Ratio    `json:"ratio,omitempty"`
	Troubles []Trouble `json:"troubles"`
	Notes    []string  `json:"notes"` // conditions and troubles in words
	Seconds  float64   `json:"seconds"`
	Sentence string    `json:"sentence"`
}

// Weigh counts a recording's turns and finds its ratio. Errors are fault.Errors. It
// takes one pass over the points for each of two rounds.
func Weigh(r Recording) (*Answer, error) {
	if err := r.check(); err != nil {
		return nil, err
	}
	m := newMachine(r)
	a := &Answer{Troubles: []Trouble{}, Notes: []string{}, Seconds: m.end - m.begin}
	m.ratio(a)
	for _, p := range m.all {
		a.Counts = append(a.Counts, p.count(m.end))
	}
	a.tell(m)
	return a, nil
}

// machine is the paths of one recording, oriented alike.
type machine struct {
	r          Recording
	all        []*path
	in         *path
	wheels     []*path // left, right, or the output
	begin, end float64
	offsets    []float64 // of clocks that aren't the input's
}

func newMachine(r Recording) *machine {
	m := &machine{r: r, begin: math.Inf(1), end: math.Inf(-1)}
	for _, s := range r.Sources {
		p := newPath(s)
		m.all = append(m.all, p)
		if s.Shaft == Input {
			m.in = p
		} else {
			m.wheels = append(m.wheels, p)
		}
		if len(p.times) > 0 {
			from, to := p.span()
			m.begin, m.end = min(m.begin, from), max(m.end, to)
		}
		if s.Alive > 0 {
			m.end = max(m.end, s.Alive)
		}
	}
	if m.begin > m.end {
		m.begin, m.end = 0, 0
	}
	if m.in != nil {
		if m.in.net() < 0 && m.in.way {
			m.in.flip()
		}
		for _, w := range m.wheels {
			if w.way && alongWith(w, m.in) < 0 {
				w.flip()
			}
		}
	}
	return m
}

// alongWith is above zero where a path turns the way the other does.
func alongWith(p, in *path) float64 {
	y := in.along(p.times)
	sum := 0.0
	for i := 1; i < len(y); i++ {
		if d := (y[i] - y[i-1]) * (p.turns[i] - p.turns[i-1]); !math.IsNaN(d) {
			sum += d
		}
	}
	return sum
}

// axle reports whether wheels are watched.
func (m *machine) axle() bool {
	return len(m.wheels) > 0 && m.wheels[0].shaft != Output
}

func (m *machine) held(s Shaft) bool { return slices.Contains(m.r.HeldWheels, s) }

// still reports whether a wheel's source shows no turning: at most one mark.
func still(p *path) bool { return !p.turned() }

// ratio finds the ratio of a recording, with its conditions and troubles.
func (m *machine) ratio(a *Answer) {
	switch {
	case m.in != nil && m.against():
		a.Troubles = append(a.Troubles, Opposite)
	case m.in == nil || !m.in.turned():
		a.Troubles = append(a.Troubles, NoInput)
	case len(m.wheels) == 0:
		a.Troubles = append(a.Troubles, NoOutput)
	}
	if len(a.Troubles) > 0 {
		return
	}
	moving, conditions := m.moving()
	if len(moving.paths) == 0 {
		a.Troubles = append(a.Troubles, NoOutput)
		return
	}
	findHoles(m.in, moving)
	m.align(moving)
	list := meet(m.in, moving)
	f, ok := fit(list, m.in, moving)
	if ok && m.mend(f.r, moving) {
		findHoles(m.in, moving)
		list = meet(m.in, moving)
		f, ok = fit(list, m.in, moving)
	}
	if ok && len(moving.paths) == 2 {
		f = m.alone(a, list, f, moving)
	} else {
		m.silent(a, moving)
	}
	if !m.r.OneWay && !m.signed() {
		conditions = append(conditions, OneWay)
	}
	switch {
	case ok && f.noisy:
		a.Troubles = append(a.Troubles, Unsteady)
	case ok:
		m.repaired(f, moving)
		low, high := m.doubts(f, moving)
		a.Ratio = &Ratio{Best: f.r, Low: low, High: high, Output: f.x, Input: f.r * f.x, Spread: f.sigma * f.x,
			Events: f.events, From: f.from, To: f.to}
	default:
		a.Ratio = m.between(moving)
	}
	if a.Ratio == nil {
		return
	}
	m.crept(a.Ratio, moving)
	a.Ratio.Conditions = append([]Condition{}, conditions...)
	if m.axle() && a.Ratio.High < 1 {
		a.Troubles, a.Ratio = append(a.Troubles, Swapped), nil
		return
	}
	a.Ratio.InputMark, a.Ratio.OutputMark = m.in.step, moving.step()
	a.Ratio.Origin = a.Ratio.origin(m, f)
}

// moving is the side of wheels that turned, and what their ratio rests on.
func (m *machine) moving() (side, []Condition) {
	if !m.axle() {
		s := side{share: 1}
		if m.r.Outputs == OneHeld {
			s.share = 0.5
		}
		if m.wheels[0].turned() {
			s.paths = m.wheels
		}
		return s, nil
	}
	s := side{share: 0.5}
	var conditions []Condition
	for _, w := range m.wheels {
		switch {
		case m.held(w.shaft):
		case !still(w):
			s.paths = append(s.paths, w)
		case w.shaft == Left:
			conditions = append(conditions, LeftStill)
		default:
			conditions = append(conditions, RightStill)
		}
	}
	if len(m.wheels) == 1 {
		x := m.r.Other
		if x == nil {
			x = &Other{Does: Held}
		}
		if x.Does == With {
			s.share = 1
		}
		if !x.Seen {
			conditions = append(conditions, OtherDid)
		}
	}
	return s, conditions
}

// Marks told so unevenly beside how close they come can be missed and put in wrongly
// without a trace; by so much of the ratio for all of the trembling.
const (
	mostTremble = 0.23
	trembleCost = 0.04
)

// doubts is a ratio's 95 % range with the marks that may have been missed or wrongly put
// in where no other shaft tells one mark by itself.
func (m *machine) doubts(f fitted, out side) (low, high float64) {
	low, high = f.range95()
	if f.x <= 0 {
		return low, high
	}
	more := 0.0
	for _, p := range append([]*path{m.in}, out.paths...) {
		if 1/p.step >= marksToMend && p.step > 0 && p.tremble > mostTremble {
			more = max(more, trembleCost*p.tremble*f.r)
		}
	}
	low, high = f.r-math.Hypot(f.r-low, more), f.r+math.Hypot(high-f.r, more)
	if f.steps.in == 0 {
		put, missing := m.in.open(f, m.in.step)
		high += missing * m.in.step / f.x
		low -= put * m.in.step / f.x
	}
	if f.steps.out == 0 {
		for _, p := range out.paths {
			by := f.r * p.step * out.share
			put, missing := p.open(f, -by)
			low -= missing * by / f.x
			high += put * by / f.x
		}
	}
	return max(low, 0), high
}

// open sums a path's doubts that the events leave open. A mark that was missed makes the
// events after it lie a step off those before; step is by how much, in input turns.
func (p *path) open(f fitted, step float64) (put, missing float64) {
	for _, d := range p.doubts {
		by := -step * d.marks // the input's missing mark leaves it behind
		if d.put {
			by = -by
		}
		w := d.marks * f.stepped(d.at, by)
		if d.put {
			put += w
		} else {
			missing += w
		}
	}
	return put, missing
}

// crept widens a ratio where a wheel was taken for still whose sensor saw a mark: it
// turned up to as many marks and one, or back.
func (m *machine) crept(r *Ratio, moving side) {
	if !m.axle() || len(moving.paths) != 1 {
		return
	}
	for _, w := range m.wheels {
		if w == moving.paths[0] || m.held(w.shaft) || len(w.times) == 0 || w.step == 0 {
			continue
		}
		most := float64(len(w.times)+1) * w.step / moving.paths[0].travel()
		r.Low /= 1 + most
		if w.way {
			r.High *= 1 + most
		}
	}
}

// signed reports whether any source tells the direction: then turning back shows.
func (m *machine) signed() bool {
	for _, p := range m.all {
		if p.way && p.turned() {
			return true
		}
	}
	return false
}

// against reports whether two wheels with direction turned opposite ways, so that the
// input hardly did.
func (m *machine) against() bool {
	if len(m.wheels) != 2 || m.in.travel() > 0.5*(m.wheels[0].travel()+m.wheels[1].travel())/2 {
		return false
	}
	return m.wheels[0].turned() && m.wheels[1].turned()
}

// between is what the counts alone bound the ratio to, before there are marks to compare.
func (m *machine) between(out side) *Ratio {
	inLow, inHigh := reach(m.in)
	outLow, outHigh := 0.0, 0.0
	for _, p := range out.paths {
		l, h := reach(p)
		outLow, outHigh = outLow+l*out.share, outHigh+h*out.share
	}
	if outLow <= 0 || inHigh <= 0 {
		return nil
	}
	r := &Ratio{Low: inLow / outHigh, High: inHigh / outLow, Output: (outLow + outHigh) / 2}
	r.Best = (inLow + inHigh) / (outLow + outHigh)
	r.Input, r.Spread = r.Best*r.Output, (r.High-r.Low)/4*r.Output
	r.From, r.To = m.begin, m.end
	return r
}

// reach is what a path turned at least and at most, whichever way.
func reach(p *path) (low, high float64) {
	low, high = p.bounds()
	if high < 0 {
		low, high = -high, -low
	}
	return max(0, low), max(0, high)
}

// repaired tells the paths which of their marks the fit put right.
func (m *machine) repaired(f fitted, out side) {
	m.in.missed += f.missed
	if len(out.paths) == 1 {
		out.paths[0].missed += f.outMissed
	}
}
