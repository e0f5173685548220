package say

import (
	"strconv"
	"time"
	"unicode"
	"unicode/utf8"
)

// Capital begins a text with a capital letter.
func Capital(s string) string {
	r, n := utf8.DecodeRuneInString(s)
	if n == 0 {
		return s
	}
	return string(unicode.ToUpper(r)) + s[n:]
}

// Small is a name within a sentence: "Rear axle" becomes "rear axle", and what
// begins like an abbreviation stays.
func Small(s string) string {
	first, n := utf8.DecodeRuneInString(s)
	second, _ := utf8.DecodeRuneInString(s[n:])
	if n == 0 || (second != ' ' && second != utf8.RuneError && unicode.ToUpper(second) == second) {
		return s
	}
	return string(unicode.ToLower(first)) + s[n:]
}

// Clip cuts a text after so many characters.
func Clip(s string, most int) string {
	if r := []rune(s); len(r) > most {
		return string(r[:most]) + "…"
	}
	return s
}

// Count is a number with its noun: "1 step", "3 steps".
func Count(n int, noun string) string {
	if n == 1 {
		return "1 " + noun
	}
	return strconv.Itoa(n) + " " + noun + "s"
}

// Day is a date as it is said.
func Day(t time.Time) string { return t.Format("2 January 2006") }
