package typed

import (
	"strings"
	"unicode"
)

// Cell is text as it goes into a table that a spreadsheet may open: what it would
// take for a formula gets an apostrophe in front, which Uncell takes off. A
// formula begins, behind whatever can't be seen, with one of = + - @ or their
// full-width forms.
func Cell(text string) string {
	if formula(text) || strings.HasPrefix(text, "'") {
		return "'" + text
	}
	return text
}

// Uncell is text as it was before Cell.
func Uncell(cell string) string {
	if rest, ok := strings.CutPrefix(cell, "'"); ok && Cell(rest) != rest {
		return rest
	}
	return cell
}

func formula(text string) bool {
	text = strings.TrimLeftFunc(text, func(r rune) bool {
		return unicode.IsSpace(r) || unicode.IsControl(r) || unicode.Is(unicode.Cf, r) || unicode.IsMark(r) ||
			strings.ContainsRune("\u2800\u3164\uffa0\u115f\u1160", r)
	})
	for _, r := range text {
		return strings.ContainsRune("=+-@＝＋－＠", r)
	}
	return false
}
