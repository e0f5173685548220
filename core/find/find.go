// Package find makes texts and what people type into words by which they are found:
// case and width alike, fractions as they are said, and ratios and tooth counts as
// words of their own, so that 4.10 finds a ratio and 41:10 a pair.
package find

import (
	"iter"
	"regexp"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Bounds of what is looked for.
const (
	MostWords = 10
	longest   = 40
	shortest  = 3 // of a word that the database indexes
)

var (
	ratioLike = regexp.MustCompile(`(?:^|[^\d.,])(\d{1,2})[.,](\d{1,4})(?:$|[^\d.,]|[.,](?:$|\D))`)
	pairLike  = regexp.MustCompile(`(?:^|[^\d])(\d{1,3})\s?[:/–-]\s?(\d{1,3})(?:$|[^\d])`)
	fractions = strings.NewReplacer("½", " f1x2 ", "⅓", " f1x3 ", "⅔", " f2x3 ", "¼", " f1x4 ", "¾", " f3x4 ", "⅛", " f1x8 ", "⅜", " f3x8 ", "⅝", " f5x8 ", "⅞", " f7x8 ")
)

// Ratio is the word of a ratio's label: 4.10 is r4x10.
func Ratio(label string) string {
	return "r" + strings.NewReplacer(".", "x", ",", "x").Replace(label)
}

// Pair is the word of two tooth counts: 41 and 10 are t41x10.
func Pair(a, b string) string { return "t" + a + "x" + b }

// Index is a text as it is kept for being found: its words, and those of the ratios
// and pairs that stand in it.
func Index(text string) string {
	text = fold(text)
	var b strings.Builder
	b.WriteString(fractions.Replace(text))
	each(ratioLike, text, 200, func(x, y string) { b.WriteString(" " + Ratio(x+"."+y)) })
	each(pairLike, text, 200, func(x, y string) { b.WriteString(" " + Pair(x, y)) })
	for w := range briefs(text) {
		b.WriteString(" " + Brief(w))
	}
	return b.String()
}

// Brief is how a word is kept that an index of full text leaves out, as it is too short
// or says little: 88 is s088.
func Brief(word string) string { return "s0" + word }

// briefs are the words of a text that an index of full text leaves out, each once.
func briefs(text string) iter.Seq[string] {
	return func(yield func(string) bool) {
		seen := map[string]bool{}
		for w := range strings.FieldsFuncSeq(text, func(r rune) bool {
			return !unicode.IsLetter(r) && !unicode.IsDigit(r) &&
				!unicode.IsMark(r)
		}) {
			if utf8.RuneCountInString(w) >= shortest && !stop[w] || seen[w] {
				continue
			}
			if seen[w] = true; !yield(w) {
				return
			}
		}
	}
}

// each takes what matches, and returns the text without it. Two neighbors share the
// character between them.
func each(re *regexp.Regexp, text string, most int, take func(a, b string)) string {
	var rest strings.Builder
	for range most {
		m := re.FindStringSubmatchIndex(text)
		if m == nil {
			break
		}
		take(text[m[2]:m[3]], text[m[4]:m[5]])
		rest.WriteString(text[:m[2]] + " ")
		text = text[m[5]:]
	}
	return rest.String() + text
}

// fold makes case and full-width forms alike.
func fold(s string) string {
	return strings.Map(func(r rune) rune {
		if r >= 0xff01 && r <= 0xff5e { // full width
			r -= 0xfee0
		}
		return unicode.ToLower(r)
	}, s)
}

// Sought is what was typed: words that begin so. Short ones are kept
// in a form of their own (Brief).
type Sought struct {
	Words []string // letters and digits alone
	Short []string
}

// stop are words that a full-text index leaves out, and that say nothing beside
// others; alone they are sought letter by letter.
var stop = map[string]bool{
	"a": true, "an": true, "as": true, "at": true, "be": true, "by": true, "de": true, "en": true, "i": true, "in": true, "is": true, "it": true, "la": true, "of": true, "on": true, "or": true, "to": true,
	"about": true, "are": true, "com": true, "for": true, "from": true, "how": true, "that": true, "the": true, "this": true, "was": true, "what": true, "when": true, "where": true, "who": true, "will": true, "with": true, "und": true, "www": true}

// Query reads what was typed.
func Query(typed string) Sought {
	text := fold(typed)
	var s Sought
	var small []string
	text = each(ratioLike, text, MostWords, func(x, y string) { s.add(Ratio(x + "." + y)) })
	text = each(pairLike, text, MostWords, func(x, y string) { s.add(Pair(x, y)) })
	for _, w := range strings.FieldsFunc(fractions.Replace(text), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) && !unicode.IsMark(r) }) {
		if stop[w] {
			small = append(small, w)
			continue
		}
		s.add(w)
	}
	if s.None() {
		s.Short = small[:min(len(small), MostWords)]
	}
	return s
}

func (s *Sought) add(w string) {
	r := []rune(w)
	switch {
	case len(s.Words)+len(s.Short) >= MostWords:
	case len(r) < shortest:
		s.Short = append(s.Short, w)
	default:
		s.Words = append(s.Words, string(r[:min(len(r), longest)]))
	}
}

// None is whether nothing was typed that could be looked for.
func (s Sought) None() bool { return len(s.Words)+len(s.Short) == 0 }
