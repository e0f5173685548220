package say

import (
	"fmt"
	"strconv"
	"strings"
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
func Day(t time.Time) string { return t.Format("January 2, 2006") }

// Ordinal is a place in a row: 1st, 2nd, 3rd, 11th.
func Ordinal(n int) string {
	end := "th"
	if n%100 < 11 || n%100 > 13 {
		switch n % 10 {
		case 1:
			end = "st"
		case 2:
			end = "nd"
		case 3:
			end = "rd"
		}
	}
	return strconv.Itoa(n) + end
}

// Chance is a probability as a shop says it, never rounded up to certainty:
// "practically certain", "99 in 100", "about 8 in 10", "about 1 in 40".
func Chance(p float64) string {
	switch {
	case p >= 0.999:
		return "practically certain"
	case p >= 0.985:
		return "99 in 100"
	case p >= 0.93:
		return "19 in 20"
	case p >= 0.495:
		return fmt.Sprintf("about %.0f in 10", 10*p)
	case p < 0.001:
		return "less than 1 in 1,000"
	}
	return fmt.Sprintf("about 1 in %.0f", 1/p)
}

// And joins words as in a sentence: "a", "a and b", "a, b and c".
func And(words []string) string {
	switch n := len(words); n {
	case 0:
		return ""
	case 1:
		return words[0]
	default:
		return strings.Join(words[:n-1], ", ") + " and " + words[n-1]
	}
}

// A puts the article before a noun: "a wheel", "an axle".
func A(noun string) string {
	if noun != "" && strings.ContainsRune("aeio", unicode.ToLower(rune(noun[0]))) {
		return "an " + noun
	}
	return "a " + noun
}
