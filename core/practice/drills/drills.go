// Package drills trains one skill of the trade at a time, for a minute or two: cards drawn
// from a seed, each with one answer, marked at once.
package drills

import (
	"math"
	"math/rand/v2"
	"slices"

	"zorvel/core/fault"
	"zorvel/core/say"
	"zorvel/core/setup"
)

// MostLevel is the hardest level of any drill; all have the same levels, from 1.
const MostLevel = 3

// Question is a card, and its answer once it is given.
type Question struct {
	Drill  string  `json:"drill"`
	Level  int     `json:"level"`
	Seed   uint32  `json:"seed"`
	Answer *Answer `json:"answer,omitempty"`
}

// Answer is what the learner says: a number, or one of the choices.
type Answer struct {
	Value  *float64 `json:"value,omitempty"`
	Choice string   `json:"choice,omitempty"`
	// Built is what was put at each place of a thing that is built, by place.
	Built map[string]string `json:"built,omitempty"`
}

// Takes is how a card is answered.
type Takes string

// Ways to answer a card.
const (
	Number Takes = "number"
	Pick   Takes = "choice"
	Build  Takes = "build"
)

// Choice is an answer that can be picked.
type Choice struct {
	ID    string `json:"id"`
	Words string `json:"words"`
}

// Place is where something is put when a thing is built, with what can be put there.
type Place struct {
	ID      string   `json:"id"`
	Name    string   `json:"name"`
	Choices []Choice `json:"choices"`
}

// Card is what is asked.
type Card struct {
	Drill   string   `json:"drill"`
	Level   int      `json:"level"`
	Seed    uint32   `json:"seed"`
	Ask     string   `json:"ask"`
	Facts   []string `json:"facts"`
	Takes   Takes    `json:"takes"`
	Unit    string   `json:"unit,omitempty"`
	Choices []Choice `json:"choices,omitempty"`
	Places  []Place  `json:"places,omitempty"`
	Picture *Picture `json:"picture,omitempty"`
	Marked  *Marked  `json:"marked,omitempty"`
}

// Picture is what is drawn. Which fields it has, its kind says.
type Picture struct {
	Kind string `json:"kind"` // dial, stream, photo, pattern, stamp, differential
	// dial: whole turns, and where the mark is, in turns past the top.
	Whole int     `json:"whole,omitempty"`
	At    float64 `json:"at,omitempty"`
	// stream: how many pass, seconds between them, and what interrupts.
	Count  int     `json:"count,omitempty"`
	Pace   float64 `json:"pace,omitempty"`
	Breaks []Break `json:"breaks,omitempty"`
	// photo: drawn anew from these by who shows it.
	Photo string `json:"photo,omitempty"`
	Seed  uint64 `json:"-"`
	// pattern
	Drive *setup.Spot `json:"drive,omitempty"`
	Coast *setup.Spot `json:"coast,omitempty"`
	// stamp, as it was struck
	Text string `json:"text,omitempty"`
	Worn uint32 `json:"worn,omitempty"`
}

// Break is an interruption of a count.
type Break struct {
	After   int      `json:"after"` // how many had passed
	Ask     string   `json:"ask"`
	Choices []string `json:"choices"`
}

// Marked is a card with its answer.
type Marked struct {
	Right    bool   `json:"right"`
	Points   int    `json:"points"` // −100 to 100; guessing comes to 0
	Truth    string `json:"truth"`
	Sentence string `json:"sentence"`
	// Off is by how much a judged figure was off, answer less truth; which unit, the drill
	// says.
	Off *float64 `json:"off,omitempty"`
	// Shafts are what the built thing does straight on, each per turn of the driven part, and
	// Corner what it does with the left wheel on the outside. What spins loose is in neither.
	Shafts map[string]float64 `json:"shafts,omitempty"`
	Corner map[string]float64 `json:"corner,omitempty"`
}

// drill is one of them, whole in a file of its own.
type drill struct {
	id      string
	title   string
	about   string
	seconds int // what a card takes
	levels  [MostLevel]string
	// deal draws a card, and how an answer to it is marked.
	deal func(r *rand.Rand, level int) (Card, marker, error)
}

// marker marks an answer that has been checked to be of the card's kind.
type marker func(a Answer) (Marked, error)

// all are the drills, in the order in which they are learned.
var all []drill

func init() {
	all = []drill{remainder(), interruptions(), taller(), wheels(), stamp(), photos(), helical(), shafts(),
		differential(), rpm(), speedometer(), pattern(), fewest()}
}

// Drill is a drill as it is offered.
type Drill struct {
	ID      string `json:"id"`
	Title   string `json:"title"`
	About   string `json:"about"`
	Seconds int    `json:"seconds"`
	// Levels say what each adds.
	Levels []string `json:"levels"`
}

// List lists the drills.
func List() []Drill {
	out := make([]Drill, len(all))
	for i, d := range all {
		out[i] = Drill{d.id, d.title, d.about, d.seconds, d.levels[:]}
	}
	return out
}

// Work deals a card and, where it was answered, marks it. Faults are *fault.Error.
func Work(q Question) (*Card, error) {
	if err := fault.Figures(q); err != nil {
		return nil, err
	}
	i := slices.IndexFunc(all, func(d drill) bool { return d.id == q.Drill })
	if i < 0 {
		return nil, fault.New("drill", "%.40q is no drill", q.Drill)
	}
	if q.Level < 1 || q.Level > MostLevel {
		return nil, fault.New("level", "from 1 to %d", MostLevel)
	}
	r := rand.New(rand.NewPCG(uint64(q.Seed), uint64(i)<<8|uint64(q.Level)))
	c, mark, err := all[i].deal(r, q.Level)
	if err != nil {
		return nil, err
	}
	c.Drill, c.Level, c.Seed = q.Drill, q.Level, q.Seed
	if c.Facts == nil {
		c.Facts = []string{}
	}
	if q.Answer == nil {
		return &c, nil
	}
	if err := c.check(*q.Answer); err != nil {
		return nil, err
	}
	m, err := mark(*q.Answer)
	if err != nil {
		return nil, err
	}
	if n := len(c.Choices); n > 1 && !m.Right && m.Points == 0 {
		m.Points = -100 / (n - 1) // who only guesses comes to nothing
	}
	c.Marked = &m
	return &c, nil
}

// check holds an answer against what the card takes.
func (c *Card) check(a Answer) error {
	switch c.Takes {
	case Number:
		if a.Value == nil {
			return fault.New("answer/value", "enter a number")
		}
		if math.Abs(*a.Value) > 1e6 {
			return fault.New("answer/value", "from −1,000,000 to 1,000,000")
		}
	case Pick:
		if !slices.ContainsFunc(c.Choices, func(x Choice) bool { return x.ID == a.Choice }) {
			return fault.New("answer/choice", "choose one of the answers")
		}
	case Build:
		for _, p := range c.Places {
			if !slices.ContainsFunc(p.Choices, func(x Choice) bool { return x.ID == a.Built[p.ID] }) {
				return fault.New("answer/built/"+p.ID, "choose what goes there")
			}
		}
	}
	return nil
}

// picked marks a choice: right or not.
func picked(truth, words, why string) marker {
	return func(a Answer) (Marked, error) {
		m := Marked{Right: a.Choice == truth, Truth: words, Sentence: why}
		if m.Right {
			m.Points = 100
		}
		return m, nil
	}
}

// judged marks a figure that is judged: full points where it is right, half where it is
// off by one tolerance and a sixth by its double, as a bell falls off.
func judged(tolerance float64, off func(value float64) float64, words string, why func(off float64) string) marker {
	return func(a Answer) (Marked, error) {
		d := off(*a.Value)
		x := d / tolerance
		m := Marked{Right: math.Abs(x) <= 1, Points: int(math.Round(100 * math.Exp(-math.Ln2*x*x))), Truth: words,
			Sentence: why(d)}
		d = say.Round(d, 4)
		m.Off = &d
		return m, nil
	}
}

// counted marks a count: right, or not.
func counted(truth int, words func(said int) string) marker {
	return func(a Answer) (Marked, error) {
		said := int(math.Round(*a.Value))
		off := float64(said - truth)
		m := Marked{Right: said == truth, Truth: say.Trim(float64(truth), 0), Sentence: words(said), Off: &off}
		if m.Right {
			m.Points = 100
		}
		return m, nil
	}
}

// offered shuffles choices.
func offered(r *rand.Rand, list []Choice) []Choice {
	r.Shuffle(len(list), func(i, j int) { list[i], list[j] = list[j], list[i] })
	return list
}
