package identify

import (
	"math"
	"strconv"
)

// technique is a method of taking a reading, with all that tells it from the others: how
// it is checked, weighed, told, offered as the next measurement and simulated. Each
// stands in a file of its own; a new one is a file, a name and a line in techniques.
type technique struct {
	method Method

	// What is known of any reading taken by it.
	byHand  bool // counted or turned here, not written or driven
	turned  bool // an input shaft was turned: the unit is ready for it
	open    bool // the gears were seen
	written bool // text that someone else left

	// resolve checks a reading and parses what was typed. Errors are *Error.
	resolve func(r Reading, s Stage, sp *Space) (Reading, error)
	// compile prepares a resolved reading to be weighed.
	compile func(c *compiled, sp *Space)
	// origin explains where the reading's value comes from, line by line.
	origin func(c *compiled) []string
	// summary is the reading in a few words.
	summary func(r Reading) string
	// says are causes in words of its own.
	says map[Cause]string
	// again is how a reading that doesn't agree is taken once more; nil where that
	// would tell the same.
	again func(k Kind) string
	// options offers what could be read next by it.
	options func(p *planner, by *technique, add func(Option, outcome))
	// minutes is what an option takes.
	minutes func(p *planner, o Option) float64
	// draw reads a simulated unit; nil where that is not simulated, false where the
	// unit has nothing to read.
	draw func(w *world, o Option, r *Reading) bool
}

func techniqueOf(m Method) (*technique, bool) {
	for _, w := range techniques {
		if w.method == m {
			return w, true
		}
	}
	return nil, false
}

// options are all measurements that could come next.
func (p *planner) options() []Option {
	var out []Option
	add := func(o Option, res outcome) {
		res.blunder()
		o.Settles, o.WrongAfter = res.settles, min(res.wrong, 1-p.now.lead)
		o.Total = o.Minutes + res.rest
		out = append(out, o)
	}
	for _, w := range techniques {
		w.options(p, w, add)
	}
	return out
}

// used reports whether a reading was taken by the method.
func (p *planner) used(by *technique) bool {
	for _, c := range p.a.readings {
		if c.by == by {
			return true
		}
	}
	return false
}

func (p *planner) atAxle() bool { return p.a.sp.Stage.Kind.axle() }

func (k Kind) axle() bool { return k == RingAndPinion || k == TwoStage }

// decimal and plain write figures in explanations.
func decimal(v float64, places int) string { return strconv.FormatFloat(v, 'f', places, 64) }

func plain(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }

// sizes orders the wheels' turns whatever their direction.
func (t TurnsReading) sizes() (least, most float64) {
	l, r := math.Abs(t.Left.Turns), math.Abs(t.Right.Turns)
	return min(l, r), max(l, r)
}
