package identify

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"zorvel/core/say"
)

// Goal is what is to be settled.
type Goal string

// The goals: the label is enough for talk and for choosing gears to match; the
// exact build is needed for parts.
const (
	SettleLabel Goal = "label"
	SettlePair  Goal = "pair"
)

// Situation is what is already open, lifted or out of reach; it sets the
// minutes a measurement takes.
type Situation struct {
	CoverOff bool `json:"cover_off,omitempty"` // the gears can be seen and counted
	OnStands bool `json:"on_stands,omitempty"` // the wheels are lifted and free, or the unit is clamped
	Removed  bool `json:"removed,omitempty"`   // the unit is off the vehicle
	NoTag    bool `json:"no_tag,omitempty"`    // there is no tag
	NoStamp  bool `json:"no_stamp,omitempty"`  // no stamp can be found
	NoTurns  bool `json:"no_turns,omitempty"`  // a wheel or brake is seized
	NoRoad   bool `json:"no_road,omitempty"`   // it can't be driven
	// ManyTurns asks for long counts too: more than 8 output turns are seldom
	// finished without losing count.
	ManyTurns bool `json:"many_turns,omitempty"`
}

// SituationChoice is what can be the case, with the words that it bears at a kind of stage.
type SituationChoice struct {
	Key   string `json:"key"`
	Words string `json:"words"`
}

// Situations lists what can be the case at a kind of stage, in its own words.
func (k Kind) Situations() []SituationChoice {
	switch k {
	case RingAndPinion, TwoStage:
		return []SituationChoice{{"on_stands", "On jack stands"}, {"cover_off", "Cover off"},
			{"removed", "Off the vehicle"}, {"no_tag", "No tag"}, {"no_turns", "Seized wheel or brake"},
			{"many_turns", "Long counts are fine"}}
	case Gearcase:
		return []SituationChoice{{"on_stands", "Propeller off, in gear"}, {"cover_off", "Gearcase open"}, {"removed", "Gearcase on the bench"}, {"no_turns", "Won't turn"}, {"many_turns", "Long counts are fine"}}
	case Gearbox, TransferCase:
		out := []SituationChoice{{"on_stands", "On jack stands, driveshaft off"}, {"cover_off", "Case open"}, {"removed", "On the bench"}}
		if k == TransferCase {
			out = append(out, SituationChoice{"no_tag", "No tag"})
		}
		return append(out, SituationChoice{"no_turns", "Won't turn"}, SituationChoice{"many_turns", "Long counts are fine"})
	case Hub:
		return []SituationChoice{{"on_stands", "Wheel off the ground"}, {"cover_off", "Hub open"}, {"removed", "Hub on the bench"}, {"no_turns", "Won't turn"}, {"many_turns", "Long counts are fine"}}
	}
	return []SituationChoice{{"cover_off", "Gears in sight"}, {"removed", "On the bench"}, {"no_turns", "Won't turn"}, {"many_turns", "Long counts are fine"}}
}

// Option is a measurement that could come next.
type Option struct {
	Method      Method      `json:"method"`
	OutputTurns int         `json:"output_turns,omitempty"` // Turns, Bench
	By          RemainderBy `json:"by,omitempty"`           // Turns, Bench
	Members     []string    `json:"members,omitempty"`      // Teeth
	Minutes     float64     `json:"minutes"`
	// Settles is the probability that the goal is settled after it.
	Settles float64 `json:"settles"`
	// WrongAfter is the expected chance of being wrong after it.
	WrongAfter float64 `json:"wrong_after"`
	// Total is the expected minutes until settled if it is done now.
	Total float64 `json:"total"`
	Do    string  `json:"do"`
}

// Plan is what to measure next, cheapest first.
type Plan struct {
	Goal     Goal     `json:"goal"`
	Sure     float64  `json:"sure"` // probability of the leading label or build now
	Settled  bool     `json:"settled"`
	Sentence string   `json:"sentence"`
	Options  []Option `json:"options"`
}

const (
	maxParticles = 300
	truths       = 24
)

// planner weighs what each option would tell.
type planner struct {
	a       *Assessment
	goal    Goal
	sit     Situation
	byRatio []particle // grouped as the goal asks, by rising ratio
	builds  []particle
	covered float64 // share of the posterior that builds hold
	now     after
	leadAt  int     // index of the leading particle
	typical float64 // mean ratio
	scratch []float64
	left    spread
}

// Next ranks the measurements that could come next for a goal. From a blank
// start it says what to do first.
func (a *Assessment) Next(goal Goal, sit Situation) Plan {
	plan := Plan{Goal: goal}
	if goal == SettleLabel {
		for _, l := range a.labels {
			plan.Sure = max(plan.Sure, l.sure())
		}
	} else {
		for i := range a.post {
			plan.Sure = max(plan.Sure, a.sure(i))
		}
	}
	plan.Sure = min(plan.Sure, 1)
	plan.Settled = len(a.readings) > 0 && plan.Sure >= SettledAt
	plan.Options = a.allOptions(goal, sit)
	sort.SliceStable(plan.Options, func(i, j int) bool { return plan.Options[i].Total < plan.Options[j].Total })
	plan.Options = distinct(plan.Options)
	plan.Sentence = plan.sentence(len(a.readings) == 0)
	return plan
}

// allOptions weighs every measurement that could be taken.
func (a *Assessment) allOptions(goal Goal, sit Situation) []Option {
	p := a.planner(goal, sit)
	return p.options()
}

func (a *Assessment) planner(goal Goal, sit Situation) *planner {
	p := &planner{a: a, goal: goal, sit: sit}
	p.builds = p.buildParticles()
	p.byRatio = p.builds
	if goal == SettleLabel {
		p.byRatio = p.labelParticles()
	}
	p.scratch = make([]float64, len(p.byRatio))
	for i, q := range p.byRatio {
		p.left.add(q.mass, q.r)
		p.typical += q.mass * q.r
		if q.mass > p.byRatio[p.leadAt].mass {
			p.leadAt = i
		}
	}
	p.now = p.left.after()
	return p
}

// distinct keeps the best of each method and way of reading the remainder.
func distinct(in []Option) []Option {
	out := []Option{}
	for _, o := range in {
		if !slices.ContainsFunc(out, func(x Option) bool {
			return x.Method == o.Method && x.By == o.By && len(x.Members) == len(o.Members)
		}) {
			out = append(out, o)
		}
	}
	return out
}

func (p Plan) sentence(blank bool) string {
	if len(p.Options) == 0 {
		return "Nothing can be measured as it is: free the wheel or open the cover."
	}
	o := p.Options[0]
	what, are := "ratio", "is"
	if p.Goal == SettlePair {
		what, are = "exact tooth counts", "are"
	}
	next := fmt.Sprintf("Next: %s, about %s", o.Do, minutesWords(o.Minutes))
	switch {
	case blank:
		return fmt.Sprintf("Nothing measured yet. First: %s (about %s).", o.Do, minutesWords(o.Minutes))
	case p.Settled:
		return fmt.Sprintf("The %s %s settled. No further measurement is needed for that.", what, are)
	case o.Settles < 0.005:
		return fmt.Sprintf("%s; it won't settle the %s by itself, but nothing gets there sooner.", next, what)
	case o.Settles >= 0.995:
		return fmt.Sprintf("%s; that settles the %s unless something is misread.", next, what)
	}
	return fmt.Sprintf("%s; the chance that this settles the %s: %s.", next, what, say.Chance(o.Settles))
}

func minutesWords(m float64) string {
	n := int(math.Round(m))
	if n <= 1 {
		return "1 minute"
	}
	return fmt.Sprintf("%d minutes", n)
}
