package identify

// What the answers say. A change of wording is a change here and nowhere else.

import (
	"errors"
	"fmt"
	"strings"

	"zorvel/core/fault"
)

// memberWords is how a counted member is said.
func memberWords(name string) string {
	words := map[string]string{
		"ring": "ring gear teeth", "pinion": "pinion teeth", "gear": "forward gear teeth", "sun": "sun gear teeth",
		"planet_ring": "planetary ring gear teeth", "planet": "teeth of one planet gear", "planets": "planet gears",
		"driven": "driven gear teeth", "drive": "drive gear teeth", "input": "input gear teeth",
		"counter": "countershaft gear teeth", "cluster": "cluster gear teeth", "output": "output gear teeth",
	}
	if w, ok := words[name]; ok {
		return w
	}
	return name
}

func (m Mark) sentence() string {
	if m.IsRatio() {
		return "the ratio " + m.Canonical()
	}
	a, b := "ring gear", "pinion"
	switch m.Construction {
	case "planetary":
		a, b = "sun gear", "ring gear"
	case "chain":
		a, b = "driven sprocket", "drive sprocket"
	}
	return fmt.Sprintf("%d %s teeth and %d %s teeth", m.Counts[0], a, m.Counts[1], b)
}

// Choice is one way to understand typed words. Text, typed instead, can mean
// nothing else.
type Choice struct {
	Sentence string
	Text     string
}

// Echo is what was understood, to be confirmed before it is saved. With one
// choice the sentence is unambiguous; with several the user picks.
type Echo struct {
	Sentence string
	Choices  []Choice
	// Shaft is set when shaft turns were understood.
	Shaft *Shaft
}

// Phrase says what kind of words were typed.
type Phrase string

// The phrases that are echoed.
const (
	MarkPhrase  Phrase = "mark"  // a tag or stamp
	ShaftPhrase Phrase = "shaft" // shaft turns
	TalkPhrase  Phrase = "talk"  // anything said about gears
)

// Understand repeats typed words as one unambiguous sentence, or offers the
// sentences that could be meant. Words that mean nothing here are an *Error
// on field "text".
func Understand(text string, as Phrase, s Stage) (Echo, error) {
	switch as {
	case MarkPhrase:
		return echoMark(text, s)
	case ShaftPhrase:
		return echoShaft(text)
	case TalkPhrase:
		return echoTalk(text, s)
	}
	return Echo{}, fault.New("as", "the words are a mark, shaft or talk")
}

func echoShaft(text string) (Echo, error) {
	sh, err := ParseShaft(text)
	if several, ok := errors.AsType[*Ambiguous](err); ok {
		says := make([]string, len(several.Choices))
		for i, c := range several.Choices {
			says[i] = strings.TrimSuffix(strings.ToLower(c.Sentence[:1])+c.Sentence[1:], ".")
		}
		return Echo{Sentence: "This can be understood in more than one way. Choose: " + strings.Join(says, "; or ") + ".", Choices: several.Choices}, nil
	}
	if err != nil {
		return Echo{}, fault.New("text", "%s", err.Error())
	}
	return Echo{Sentence: sh.Sentence(), Shaft: &sh, Choices: []Choice{{sh.Sentence(), text}}}, nil
}

func echoMark(text string, s Stage) (Echo, error) {
	marks, err := ParseMark(text, s)
	if err != nil {
		return Echo{}, err
	}
	var e Echo
	for _, m := range marks {
		say := m.sentence()
		if s.Kind == Gearcase {
			say = strings.Replace(say, "ring gear", "forward gear", 1)
		} else if s.Kind != RingAndPinion && m.Construction == "pair" {
			say = strings.NewReplacer("ring gear", "driven gear", "pinion", "drive gear").Replace(say)
		}
		if !m.IsRatio() {
			if c, ok := (&Space{Stage: s, cons: mustCons(s)}).Construction(m.Construction); ok {
				if r, err := c.ratioOf(s, m.Counts); err == nil {
					say += ": ratio " + r.String() + ", label " + r.Label()
				}
			}
		}
		if !m.Plausible {
			say += " (unusual here)"
		}
		e.Choices = append(e.Choices, Choice{Sentence: say, Text: m.Canonical()})
	}
	if len(e.Choices) == 1 {
		e.Sentence = "Read as " + e.Choices[0].Sentence + "."
		return e, nil
	}
	says := make([]string, len(e.Choices))
	for i, c := range e.Choices {
		says[i] = c.Sentence
	}
	e.Sentence = "Could be " + strings.Join(says, "; or ") + ". Both are weighed unless you choose."
	if len(says) > 2 {
		e.Sentence = strings.Replace(e.Sentence, "Both are", "All are", 1)
	}
	return e, nil
}

func mustCons(s Stage) []Construction {
	c, _ := s.Constructions()
	return c
}

// Sentence says the shaft turns in full.
func (s Shaft) Sentence() string {
	r := s.Remainder
	turns := fmt.Sprintf("%d whole turns", s.Whole)
	if s.Whole == 1 {
		turns = "1 whole turn"
	}
	f := r.fraction()
	switch {
	case s.Whole == 0 && f > 0:
		return fmt.Sprintf("The shaft turned %.2f of a turn, %s.", f, r.how())
	case r.By == BareQuarter && f == 0:
		return "The shaft turned about " + turns + ", " + r.how() + "."
	case r.By == OnTheMark || f == 0:
		return "The shaft turned " + turns + ", back on the mark, by eye."
	case r.Short:
		return fmt.Sprintf("The shaft stopped %.2f turn short of %s: %.2f turns, %s.", -f, turns, s.turns(), r.how())
	}
	return fmt.Sprintf("The shaft turned %s and %.2f turn more: %.2f turns, %s.", turns, f, s.turns(), r.how())
}

func (r Remainder) how() string {
	switch r.By {
	case ByArc:
		return "measured along the rim"
	case BareQuarter:
		return fmt.Sprintf("roughly by eye, ±%.2f", sigmaQuarter)
	case PastABit:
		return fmt.Sprintf("by eye, −%.2f to +%.2f", sigmaBitNear, sigmaBitFar)
	case ShortABit:
		return fmt.Sprintf("by eye, −%.2f to +%.2f", sigmaBitFar, sigmaBitNear)
	}
	if r.Eye != nil {
		return fmt.Sprintf("by your own eye, ±%.2f", r.Eye.Spread)
	}
	return fmt.Sprintf("by eye, ±%.2f", sigmaEye)
}

func echoTalk(text string, s Stage) (Echo, error) {
	t := strings.ToLower(strings.TrimSpace(text))
	has := func(words ...string) bool {
		for _, w := range words {
			if strings.Contains(t, w) {
				return true
			}
		}
		return false
	}
	shorter := Choice{"a shorter gear: numerically higher, more turns of the shaft for one of the wheel", "shorter"}
	taller := Choice{"a taller gear: numerically lower, fewer turns of the shaft for one of the wheel", "taller"}
	switch {
	case has("higher gear", "lower gear", "high gear ratio", "low gear ratio", "higher ratio", "lower ratio"):
		first, second := shorter, taller
		if has("lower") {
			first, second = taller, shorter
		}
		return Echo{Sentence: "Shops say this both ways. Choose: " + first.Sentence + "; or " + second.Sentence + ".",
			Choices: []Choice{first, second}}, nil
	case has("shorter", "numerically higher"):
		return Echo{Sentence: "Understood: " + shorter.Sentence + ".", Choices: []Choice{shorter}}, nil
	case has("taller", "numerically lower"):
		return Echo{Sentence: "Understood: " + taller.Sentence + ".", Choices: []Choice{taller}}, nil
	case has("spline"):
		fixed := strings.NewReplacer("splines", "teeth", "spline", "tooth").Replace(t)
		return Echo{Sentence: fmt.Sprintf("Understood as gear teeth: %q. (Splines are the grooves on a shaft; they don't make the ratio.)", fixed), Choices: []Choice{{"gear teeth: " + fixed, fixed}}}, nil
	}
	t = strings.TrimPrefix(strings.TrimPrefix(t, "an "), "a ")
	t = strings.TrimSuffix(strings.TrimSuffix(strings.TrimSuffix(t, " gears"), " ratio"), " gear")
	if e, err := echoMark(t, s); err == nil {
		return e, nil
	}
	if e, err := echoShaft(t); err == nil {
		return e, nil
	}
	return Echo{}, fault.New("text", "not understood: say a ratio (four-ten, 522), two tooth counts (47 9), turns (4 and a bit), shorter or taller")
}

// Summary is the reading in a few words, for lists and the history.
func (r Reading) Summary() string {
	if w, ok := techniqueOf(r.Method); ok {
		return w.summary(r)
	}
	return string(r.Method)
}

func turnsWords(n float64) string {
	if n == 1 {
		return "1 turn"
	}
	return fmt.Sprintf("%g turns", n)
}

func (w Wheel) say(side string) string {
	s := side + " wheel " + turnsWords(w.Turns)
	if w.Turns == 0 {
		s = side + " wheel held"
		if !w.Seen {
			s = side + " wheel still"
		}
	}
	if !w.Seen {
		s += " (assumed)"
	}
	return s
}

func (s Shaft) short() string {
	if strings.TrimSpace(s.Words) != "" {
		if p, err := ParseShaft(s.Words); err == nil {
			s = p
		}
	}
	r := s.Remainder
	sign := "+"
	if r.Short {
		sign = "−"
	}
	switch r.By {
	case ByArc:
		return fmt.Sprintf("%d %s %g mm of a rim of %g mm %s", s.Whole, sign, r.ArcMM, r.RimMM, r.RimIs)
	case ByEye, BareQuarter, PastABit, ShortABit:
		if r.Fraction > 0 {
			own := ""
			if r.Eye != nil {
				own = "own "
			}
			return fmt.Sprintf("%d %s %.2f turns by %seye", s.Whole, sign, r.Fraction, own)
		}
		if r.By == BareQuarter {
			return "about " + turnsWords(float64(s.Whole)) + ", by eye"
		}
	}
	return turnsWords(float64(s.Whole)) + " exactly, by eye"
}

func joinAnd(w []string) string {
	if len(w) < 2 {
		return strings.Join(w, "")
	}
	return strings.Join(w[:len(w)-1], ", ") + " and " + w[len(w)-1]
}

// Words says how a ratio stands.
func (s State) Words() string {
	switch s {
	case Measured:
		return "measured"
	case Assumed:
		return "assumed"
	case Conflict:
		return "its readings contradict each other"
	}
	return "not counted"
}
