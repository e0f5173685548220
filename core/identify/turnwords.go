package identify

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"zorvel/core/typed"
)

// Shaft turns as they are said. The grammar, in which every word of the text
// must find its place:
//
//	phrase  := nudge phrase | part (past | short) amount | amount [tail]
//	amount  := whole ["and"] [nudge] part | whole | decimal | part | "a turn" ["and" part] | whole "minus" part
//	part    := fraction word ["a quarter"] | whole fraction words ["three quarters"] | "3/8" | "0.3"
//	nudge   := [just | slightly | a hair | a bit …] (past | over | short of | under …) | almost | nearly | not quite | about …
//	tail    := "and a bit" | "a hair short" | part (more | short) | "or so" …
//
// All ways to read a text are followed. If they come to one number, that is
// what was meant; if they come to several, it is asked (Ambiguous).

// JustPast is what "just past", "almost" and "a bit" move a number by, in turns.
const JustPast = 0.05

// Ambiguous is the error for words that can be understood in several ways.
type Ambiguous struct {
	Text    string
	Choices []Choice
}

// Error offers the meanings.
func (a *Ambiguous) Error() string {
	says := make([]string, len(a.Choices))
	for i, c := range a.Choices {
		says[i] = fmt.Sprintf("%q", c.Text)
	}
	return fmt.Sprintf("%q can be understood in more than one way; type %s", a.Text, strings.Join(says, " or "))
}

// said is one way to understand words.
type said struct {
	turns  float64 // the number, before any nudge
	whole  float64 // the whole number that turns was said to be short of, or 0
	nudge  int     // −1 a little less, +1 a little more
	about  bool
	coarse bool // a bare quarter or half
}

// value is the turns meant.
func (s said) value() float64 { return s.turns + float64(s.nudge)*JustPast }

// shaft is the reading as it is kept, or false where nothing turned.
func (s said) shaft() (Shaft, bool) {
	v := math.Round(s.value()*1e9) / 1e9
	if v < 0 || v > 1e6 {
		return Shaft{}, false
	}
	by := ByEye
	switch {
	case s.about || (s.coarse && s.nudge == 0):
		by = BareQuarter
	case s.nudge > 0:
		by = PastABit
	case s.nudge < 0:
		by = ShortABit
	}
	from := s.whole
	if s.nudge < 0 && s.turns == math.Trunc(s.turns) {
		from = s.turns
	}
	if f := math.Round((from-v)*1e9) / 1e9; from > 0 && f > 0 && f < 1 {
		return Shaft{Whole: int(from), Remainder: Remainder{By: by, Fraction: f, Short: true}}, true
	}
	whole, part := math.Modf(v)
	part = math.Round(part*1e9) / 1e9
	if part == 0 && !s.about && s.nudge == 0 {
		by = OnTheMark
	}
	return Shaft{Whole: int(whole), Remainder: Remainder{By: by, Fraction: part}}, true
}

// text says the meaning in words that mean nothing else.
func (s said) text() string {
	number := strconv.FormatFloat(s.turns, 'f', -1, 64)
	if whole, part := math.Modf(s.turns); s.coarse && part > 0 {
		number = strings.TrimPrefix(fmt.Sprintf("%.0f %s", whole, map[float64]string{0.25: "1/4", 0.5: "1/2", 0.75: "3/4"}[part]), "0 ")
	} else if len(number) > 7 {
		number = strconv.FormatFloat(math.Round(s.turns*1e4)/1e4, 'f', -1, 64)
	}
	switch {
	case s.nudge > 0:
		return "just past " + number
	case s.nudge < 0:
		return "just short of " + number
	case s.about:
		return "about " + number
	}
	return number
}

// word kinds.
type wordKind int

const (
	wNumber   wordKind = iota // a whole number
	wDecimal                  // 4.3
	wOver                     // 3/8
	wFraction                 // quarter, half, tenth
	wPoint                    // "point" between spoken digits
	wHundred
	wBit    // bit, hair, touch
	wJust   // just, slightly
	wPast   // past, over
	wMore   // more: "more than 4", "a quarter more"
	wShort  // short, under
	wLess   // less, minus
	wAlmost // almost, nearly, "not quite"
	wAbout
	wTo
	wAnd
	wA
	wOf
	wThan
	wTurn
	wOr
)

type spokenWord struct {
	kind   wordKind
	n      float64
	digits string // as typed, of a number
	plural bool
	spoken bool // a number in letters
}

var shaftWords = map[string]wordKind{
	"point": wPoint, "dot": wPoint, "hundred": wHundred,
	"bit": wBit, "touch": wBit, "hair": wBit, "little": wBit, "tad": wBit, "shade": wBit, "whisker": wBit, "smidgen": wBit, "smidge": wBit, "sliver": wBit, "trifle": wBit, "fraction": wBit, "some": wBit,
	"just": wJust, "slightly": wJust, "barely": wJust, "only": wJust, "scarcely": wJust,
	"past": wPast, "over": wPast, "after": wPast, "beyond": wPast, "above": wPast, "plus": wPast,
	"more": wMore, "short": wShort, "under": wShort, "before": wShort, "below": wShort, "shy": wShort, "less": wLess, "minus": wLess,
	"almost": wAlmost, "nearly": wAlmost, "about": wAbout, "near": wAbout, "roughly": wAbout, "around": wAbout, "approximately": wAbout, "circa": wAbout,
	"to": wTo, "and": wAnd, "a": wA, "an": wA, "of": wOf, "than": wThan, "turn": wTurn, "turns": wTurn, "times": wTurn, "or": wOr,
}

var silentWords = map[string]bool{"exactly": true, "the": true, "mark": true, "on": true, "full": true, "whole": true, "very": true, "then": true, "rev": true, "revs": true}

var fractionWords = map[string]float64{
	"quarter": 0.25, "half": 0.5, "third": 1.0 / 3, "fifth": 0.2, "sixth": 1.0 / 6, "eighth": 0.125, "tenth": 0.1,
}

var (
	shaftSpaces = strings.NewReplacer("¼", " 1/4 ", "½", " 1/2 ", "¾", " 3/4 ", "⅓", " 1/3 ", "⅔", " 2/3 ",
		"⅛", " 1/8 ", "⅜", " 3/8 ", "⅝", " 5/8 ", "⅞", " 7/8 ", "-", " ", "+", " plus ", " / ", "/", "~", " about ")
	// Several words that are one.
	shaftPhrases = strings.NewReplacer(" not quite ", " almost ", " not yet ", " almost ", " not far off ", " about ", " close to ", " about ",
		" close on ", " about ", " just about ", " about ", " just almost ", " almost ", " ish ", " about ", " or so ", " about ", " give or take ", " about ", " more or less ", " about ", " little bit ", " bit ",
		" only just ", " just ", " and change ", " and a bit ", " halves ", " halfs ")
	ish          = regexp.MustCompile(`(\w)-?ish\b`)
	decimalComma = regexp.MustCompile(`(\d),(\d)`)
	shaftNumber  = regexp.MustCompile(`^\d{1,6}$`)
	shaftPoint   = regexp.MustCompile(`^(\d{0,6})\.(\d{1,4})$`)
	shaftOver    = regexp.MustCompile(`^(\d{1,2})/(\d{1,2})$`)
)

const maxSpokenWords = 24

// spoken splits text into words, or reports one that isn't known.
func spoken(text string) ([]spokenWord, bool) {
	t := ish.ReplaceAllString(typed.Plain(text), "$1 ish")
	t = decimalComma.ReplaceAllString(shaftSpaces.Replace(t), "$1.$2")
	fields := strings.FieldsFunc(t, func(r rune) bool { return r == ' ' || r == ',' || r == ';' || r == '\n' })
	for i := range fields {
		fields[i] = strings.TrimRight(strings.Trim(fields[i], `!?"'`), ".")
	}
	t = " " + strings.Join(fields, " ") + " "
	t = shaftPhrases.Replace(shaftPhrases.Replace(t)) // neighbors share a blank
	var out []spokenWord
	for _, f := range strings.Fields(t) {
		w, ok := oneWord(f)
		switch {
		case silentWords[f]:
			continue
		case !ok || len(out) == maxSpokenWords:
			return nil, false
		}
		out = append(out, w)
	}
	return out, true
}

func oneWord(f string) (spokenWord, bool) {
	if n, ok := smallNumbers[f]; ok {
		return spokenWord{kind: wNumber, n: float64(n), digits: strconv.Itoa(n), spoken: true}, true
	}
	if shaftNumber.MatchString(f) {
		n, _ := strconv.Atoi(f)
		return spokenWord{kind: wNumber, n: float64(n), digits: f}, true
	}
	if shaftPoint.MatchString(f) {
		v, err := strconv.ParseFloat("0"+f, 64)
		return spokenWord{kind: wDecimal, n: v}, err == nil
	}
	if m := shaftOver.FindStringSubmatch(f); m != nil {
		a, _ := strconv.Atoi(m[1])
		b, _ := strconv.Atoi(m[2])
		return spokenWord{kind: wOver, n: float64(a) / float64(max(b, 1)), digits: m[2]}, b > 0 && a > 0 && a < b
	}
	singular := strings.TrimSuffix(f, "s")
	if singular == "halve" || singular == "half" {
		singular = "half"
	}
	if v, ok := fractionWords[singular]; ok {
		return spokenWord{kind: wFraction, n: v, plural: strings.HasSuffix(f, "s")}, true
	}
	k, ok := shaftWords[f]
	return spokenWord{kind: k, n: 1}, ok
}

// way is one reading of words up to next.
type way struct {
	said
	next int
}

type speech []spokenWord

func (w speech) is(i int, kinds ...wordKind) bool {
	return i < len(w) && slices.Contains(kinds, w[i].kind)
}

// skip passes one word of the kinds, if it stands there.
func (w speech) skip(i int, kinds ...wordKind) int {
	if w.is(i, kinds...) {
		return i + 1
	}
	return i
}

// whole reads a whole number: 149, forty-nine, one hundred and four.
func (w speech) whole(i int) (n float64, next int, ok bool) {
	if w.is(i, wHundred) || (w.is(i, wA) && w.is(i+1, wHundred)) {
		i, n, ok = w.skip(i, wA)+1, 100, true
	} else if w.is(i, wNumber) && w.is(i+1, wHundred) && w[i].n >= 1 && w[i].n < 10 {
		i, n, ok = i+2, 100*w[i].n, true
	}
	if ok {
		at := w.skip(i, wAnd)
		if w.is(at, wNumber) && w[at].spoken {
			// "a hundred and three quarters" is no 103.
			if small, after, more := w.tens(at); more && !w.is(after, wFraction) {
				return n + small, after, true
			}
		}
		return n, i, true
	}
	return w.tens(i)
}

func (w speech) tens(i int) (n float64, next int, ok bool) {
	if !w.is(i, wNumber) {
		return 0, i, false
	}
	n = w[i].n
	if w[i].spoken && n >= 20 && w.is(i+1, wNumber) && w[i+1].spoken && w[i+1].n >= 1 && w[i+1].n < 10 {
		return n + w[i+1].n, i + 2, true
	}
	return n, i + 1, true
}

// decimal reads 4.3 and "four point three", "point five".
func (w speech) decimal(i int) (v float64, next int, ok bool) {
	if w.is(i, wDecimal) {
		return w[i].n, i + 1, true
	}
	n, at, _ := w.whole(i)
	if !w.is(at, wPoint) {
		return 0, i, false
	}
	digits := ""
	for at++; w.is(at, wNumber) && len(digits) < 4; at++ {
		digits += w[at].digits
	}
	if digits == "" || len(digits) > 4 {
		return 0, i, false
	}
	v, err := strconv.ParseFloat(fmt.Sprintf("%.0f.%s", n, digits), 64)
	return v, at, err == nil
}

// ofATurn passes "of a turn", "a turn", "turn" after a number.
func (w speech) ofATurn(i int) int {
	if at := w.skip(w.skip(i, wOf), wA); w.is(at, wTurn) {
		return at + 1
	}
	return i
}

// part reads a proper fraction of a turn.
func (w speech) part(i int) []way {
	var out []way
	add := func(v float64, coarse bool, next int) {
		if v > 0 && v < 1 {
			out = append(out, way{said{turns: v, coarse: coarse}, w.ofATurn(next)})
		}
	}
	bare := func(v float64) bool { return v == 0.25 || v == 0.5 }
	switch at := w.skip(i, wA); {
	case w.is(at, wFraction) && !w[at].plural:
		add(w[at].n, bare(w[at].n), at+1)
	case w.is(i, wOver):
		add(w[i].n, w[i].digits == "4" || w[i].digits == "2", i+1)
	default:
		if n, at, ok := w.whole(i); ok && n > 0 && w.is(at, wFraction) {
			add(n*w[at].n, bare(w[at].n), at+1)
		}
		if v, at, ok := w.decimal(i); ok {
			add(v, false, at)
		}
	}
	return out
}

// amount reads a number of turns, perhaps with a nudge at its part.
func (w speech) amount(i int) []way {
	var out []way
	if n, at, ok := w.whole(i); ok && !w.is(at, wPoint) {
		at = w.skip(at, wTurn)
		out = append(out, way{said{turns: n}, at})
		out = append(out, w.withPart(n, at, n == 1 && !w.is(at-1, wTurn))...)
		if w.is(at, wLess) {
			for _, p := range w.part(at + 1) {
				out = append(out, way{said{turns: n - p.turns, whole: n, coarse: p.coarse}, p.next})
			}
		}
	}
	if v, at, ok := w.decimal(i); ok {
		out = append(out, way{said{turns: v}, w.ofATurn(at)})
	}
	if w.is(i, wA) && w.is(i+1, wTurn) {
		out = append(out, way{said{turns: 1}, i + 2})
		out = append(out, w.withPart(1, i+2, false)...)
	}
	return append(out, w.part(i)...)
}

// withPart reads what follows whole turns: "and a half", "1/4", "and almost a
// half". One before a bare fraction belongs to it: "one quarter".
func (w speech) withPart(n float64, at int, one bool) []way {
	var out []way
	from := w.skip(at, wAnd)
	if from == at && w.is(at, wPast) && !w.is(at+1, wA, wNumber, wOver, wFraction, wDecimal) {
		return nil
	}
	if from == at && w.is(at, wPast) {
		from++ // "4 plus a quarter"
	}
	joined := from > at
	if !joined && (one || w.is(at, wA)) {
		return nil
	}
	add := func(p way, nudge int, about bool) {
		out = append(out, way{said{turns: n + p.turns, nudge: nudge, about: about, coarse: p.coarse}, p.next})
	}
	for _, p := range w.part(from) {
		add(p, 0, false)
	}
	if joined {
		for _, x := range w.nudges(from) {
			for _, p := range w.part(x.next) {
				add(p, x.nudge, x.about)
			}
		}
	}
	return out
}

// nudges reads words that move what follows: "just past", "a hair short of",
// "almost", "about".
func (w speech) nudges(i int) []way {
	var out []way
	switch {
	case w.is(i, wAlmost):
		out = append(out, way{said{nudge: -1}, i + 1})
	case w.is(i, wAbout):
		out = append(out, way{said{about: true}, i + 1})
	}
	at := w.skip(i, wJust)
	at = w.skip(at, wA)
	at = w.skip(at, wBit)
	if at > i && !w.is(at-1, wBit, wJust) {
		return out // a bare "a"
	}
	switch {
	case w.is(at, wPast):
		out = append(out, way{said{nudge: 1}, w.skip(at+1, wOf)})
	case w.is(at, wMore) && w.is(at+1, wThan):
		out = append(out, way{said{nudge: 1}, at + 2})
	case w.is(at, wShort):
		out = append(out, way{said{nudge: -1}, w.skip(at+1, wOf)})
	case w.is(at, wLess) && w.is(at+1, wThan):
		out = append(out, way{said{nudge: -1}, at + 2})
	}
	if w.is(i, wJust) {
		// "just 4" may be four exactly or just past it.
		if !w.is(i+1, wPast, wShort, wMore, wLess, wAlmost, wAbout, wBit, wJust) {
			out = append(out, way{said{}, i + 1}, way{said{nudge: 1}, i + 1})
		}
	}
	return out
}

// phrase reads everything that can begin at i.
func (w speech) phrase(i int) []way {
	var out []way
	for _, a := range w.amount(i) {
		out = append(out, a)
		out = append(out, w.tail(a)...)
	}
	for _, x := range w.nudges(i) {
		for _, p := range w.phrase(x.next) {
			switch {
			case x.nudge*p.nudge < 0: // "almost 4 and a bit": one of the two
				q := p
				q.nudge = x.nudge
				out = append(out, p, q)
			default:
				if x.nudge != 0 {
					p.nudge = x.nudge
				}
				p.about = p.about || x.about
				out = append(out, p)
			}
		}
	}
	for _, p := range w.part(i) {
		sign, at := 0, p.next
		switch {
		case w.is(at, wPast):
			sign, at = 1, w.skip(at+1, wOf)
		case w.is(at, wMore) && w.is(at+1, wThan):
			sign, at = 1, at+2
		case w.is(at, wShort):
			sign, at = -1, w.skip(at+1, wOf)
		case w.is(at, wTo):
			sign, at = -1, at+1
		case w.is(at, wLess) && w.is(at+1, wThan):
			sign, at = -1, at+2
		default:
			continue
		}
		for _, a := range w.amount(at) {
			s := said{turns: a.turns + float64(sign)*p.turns, nudge: a.nudge, about: a.about, coarse: p.coarse}
			if sign < 0 && a.turns == math.Trunc(a.turns) {
				s.whole = a.turns
			}
			out = append(out, way{s, a.next})
			out = append(out, w.tail(way{s, a.next})...)
		}
	}
	slices.SortFunc(out, func(a, b way) int {
		return cmp.Or(a.next-b.next, cmp.Compare(a.value(), b.value()), cmp.Compare(a.rank(), b.rank()))
	})
	return slices.Compact(out)
}

// rank orders ways to the same number, plainest first.
func (s said) rank() int {
	r := s.nudge * s.nudge
	if s.about {
		r += 2
	}
	if s.whole > 0 {
		r += 4
	}
	if s.coarse {
		r += 8
	}
	return r
}

// tail reads what may follow an amount.
func (w speech) tail(a way) []way {
	var out []way
	i := a.next
	nudged := func(n, next int) {
		b := a
		b.nudge, b.next = n, next
		if a.nudge*n < 0 {
			out = append(out, way{a.said, next})
		}
		out = append(out, b)
	}
	at := w.skip(i, wAnd, wPast)
	at = w.skip(at, wA)
	switch {
	case w.is(at, wBit): // "and a bit", "a hair short", "plus some"
		switch next := at + 1; {
		case w.is(next, wShort, wLess):
			nudged(-1, next+1)
		default:
			nudged(1, w.skip(next, wMore, wPast))
		}
	case w.is(i, wJust) && w.is(i+1, wPast, wShort):
		n := 1
		if w.is(i+1, wShort) {
			n = -1
		}
		nudged(n, i+2)
	case w.is(i, wLess): // "less a hair"
		if at := w.skip(i+1, wA); w.is(at, wBit) {
			nudged(-1, at+1)
		}
	case w.is(i, wPast):
		nudged(1, i+1)
	case w.is(i, wShort), w.is(i, wAlmost):
		nudged(-1, i+1)
	case w.is(i, wAbout):
		b := a
		b.about, b.next = true, i+1
		out = append(out, b)
	case w.is(i, wOr): // "4 or 5": both are offered
		for _, b := range w.phrase(i + 1) {
			out = append(out, way{a.said, b.next}, b)
		}
	}
	for _, p := range w.part(w.skip(i, wAnd)) { // "a quarter short", "and 3 tenths more"
		b := a
		b.coarse = p.coarse
		switch {
		case w.is(p.next, wMore, wPast):
			b.turns, b.next = a.turns+p.turns, p.next+1
		case w.is(p.next, wShort, wLess):
			b.turns, b.next = a.turns-p.turns, p.next+1
			if a.turns == math.Trunc(a.turns) {
				b.whole = a.turns
			}
		default:
			continue
		}
		out = append(out, b)
	}
	return out
}

// meanings are all different numbers that a text can mean.
func meanings(text string) []said {
	words, ok := spoken(text)
	if !ok {
		return nil
	}
	w := speech(words)
	var out []said
	for _, x := range w.phrase(0) {
		if x.next != len(w) {
			continue
		}
		// One number is one meaning; the plainer way to it is kept.
		if i := slices.IndexFunc(out, func(s said) bool { return math.Abs(s.value()-x.value()) < 1e-6 }); i < 0 {
			out = append(out, x.said)
		}
	}
	return out
}

var errShaftWords = errors.New(`not understood: say whole turns and what is left, for example "4 and a bit", "just short of 5", "4 1/4" or "4.3"`)

// ParseShaft reads shaft turns as said at the vehicle: "4 and a bit", "just
// short of five", "5 1/4", "3 tenths past 4", "almost 3.5". A nudge moves the
// number said by JustPast to its side. Words that can be understood in several
// ways give an *Ambiguous; other errors say what would be understood.
func ParseShaft(text string) (Shaft, error) {
	if len(text) > maxText {
		return Shaft{}, errShaftWords
	}
	var shafts []Shaft
	var choices []Choice
	for _, m := range meanings(text) {
		if s, ok := m.shaft(); ok {
			shafts = append(shafts, s)
			choices = append(choices, Choice{Sentence: s.Sentence(), Text: m.text()})
		}
	}
	switch len(shafts) {
	case 0:
		return Shaft{}, errShaftWords
	case 1:
		return shafts[0], nil
	}
	return Shaft{}, &Ambiguous{Text: strings.TrimSpace(text), Choices: choices}
}
