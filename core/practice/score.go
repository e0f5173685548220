package practice

import (
	"fmt"
	"math"
	"slices"

	"zorvel/core/say"
)

// Review is a decided unit: what it was, the score, and the way that was gone beside the
// cheapest.
type Review struct {
	Right    bool      `json:"right"`
	Truth    string    `json:"truth"`
	Answer   string    `json:"answer"`
	Sure     int       `json:"sure"` // percent, as stated
	Sentence string    `json:"sentence"`
	Score    Score     `json:"score"`
	Minutes  float64   `json:"minutes"`
	Cheapest float64   `json:"cheapest"` // minutes of the cheapest way
	Steps    []Finding `json:"steps"`
	Best     []Finding `json:"best"`
	Mistakes []Mistake `json:"mistakes"`
}

// Finding is one reading, and what is known after it.
type Finding struct {
	Words   string  `json:"words"`
	Meaning string  `json:"meaning"`
	Minutes float64 `json:"minutes"`
}

// Mistake is what went wrong, in a sentence, and the drill that helps.
type Mistake struct {
	Words string `json:"words"`
	Drill string `json:"drill,omitempty"`
}

// Score is a score of at most 100 and its three parts.
type Score struct {
	Total     int `json:"total"`
	Certainty int `json:"certainty"` // −60 to 60
	Economy   int `json:"economy"`   // 0 to 25
	Care      int `json:"care"`      // 0 to 15
}

// Shares of the score.
const (
	forCertainty = 60.0
	forEconomy   = 25.0
	forCare      = 15.0
	perCaution   = 5.0 // a caution that was missed
	allowed      = 3.0 // minutes that nobody counts
)

// Certain is what a stated chance earns: 2p − p² where the answer is right, −p² where it is
// not. This is the quadratic rule (Brier 1950) moved so that who says "don't know" earns
// nothing. Who is right with a chance q expects 2pq − p², which is most, q², at p = q: it
// pays to say what one believes, and a guess earns next to nothing.
func Certain(p float64, right bool) float64 {
	if right {
		return 2*p - p*p
	}
	return -p * p
}

// mark sums the score up. Time and care count only for a right answer: the fastest way to
// a wrong order is no way.
func (r *Review) mark(missed int) {
	s := &r.Score
	s.Certainty = int(math.Round(forCertainty * Certain(float64(r.Sure)/100, r.Right)))
	if r.Right {
		s.Economy = int(math.Round(forEconomy * math.Min(1, (r.Cheapest+allowed)/(r.Minutes+allowed))))
		s.Care = int(math.Max(0, forCare-perCaution*float64(missed)))
	}
	s.Total = s.Certainty + s.Economy + s.Care
	r.Cheapest = say.Round(r.Cheapest, 1)
	r.Sentence = r.words(missed)
}

// forgot says each caution that was missed, once.
func (r *Review) forgot(log []Done) {
	for _, d := range log {
		if d.Forgot != "" && !slices.ContainsFunc(r.Mistakes, func(m Mistake) bool { return m.Words == d.Forgot }) {
			r.Mistakes = append(r.Mistakes, Mistake{Words: d.Forgot})
		}
	}
}

func (r *Review) words(missed int) string {
	said := fmt.Sprintf("Right: %s.", r.Truth)
	if !r.Right {
		said = fmt.Sprintf("Wrong. It is %s; you said %s.", r.Truth, r.Answer)
	}
	said += fmt.Sprintf(" %s; the cheapest way takes %s.", say.Count(int(math.Round(r.Minutes)), "minute"),
		say.Trim(r.Cheapest, 0))
	if missed > 0 {
		said += fmt.Sprintf(" %s missed.", say.Capital(say.Count(missed, "caution")))
	}
	return said
}
