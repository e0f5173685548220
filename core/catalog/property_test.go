package catalog

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"zorvel/core/fault"
)

var words = []string{"", " ", "x", "-1", "0", "1", "12", "41-10", "41/10", "4,1", "1e9", "NaN", "∞", "pair", "drive", "ring_and_pinion", "225/75R16", "=SUM(A1)", "+5", "-", "@x",
	"a \"quoted\" word", "semi;colon", "comma, here", "two\nlines", "tab\there", strings.Repeat("é", 150), "'apostrophe", "<b>", "🛞", "\u0000", "rate", "solid_rear"}

// Whatever stands in a row: it is refused at columns that the list has, or it
// is taken and read the same again.
func TestAnyRowIsTakenOrRefused(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 3))
	for _, l := range Lists() {
		keys := map[string]bool{}
		for _, c := range l.Columns {
			keys[c.Key] = true
		}
		taken := 0
		for n := range 4000 {
			row := Row{}
			for k, v := range good[l.ID] {
				row[k] = v
			}
			for range 1 + r.IntN(2) {
				row[l.Columns[r.IntN(len(l.Columns))].Key] = words[r.IntN(len(words))]
			}
			out, err := l.Check(row)
			if err != nil {
				errs, ok := err.(fault.Errors)
				if !ok || len(errs) == 0 {
					t.Fatalf("%s %v: %v", l.ID, row, err)
				}
				for _, f := range errs {
					if !keys[f.Field] || f.Message == "" {
						t.Errorf("%s %v is refused at %q: %s", l.ID, row, f.Field, f.Message)
					}
				}
				continue
			}
			taken++
			again, err := l.Check(out)
			if err != nil || fmt.Sprint(again) != fmt.Sprint(out) {
				t.Errorf("%s, draw %d: %v becomes %v, %v", l.ID, n, out, again, err)
			}
			if l.Identity(again) != l.Identity(out) || l.Difference(out, again) != "" {
				t.Errorf("%s: %v is another row when it is read again", l.ID, out)
			}
			for k, v := range out {
				if !keys[k] || v == "" || strings.ContainsAny(v, "\x00\n\t") {
					t.Errorf("%s keeps %q in %q", l.ID, v, k)
				}
			}
		}
		if taken < 200 || taken > 3900 {
			t.Errorf("%s took %d of 4000", l.ID, taken)
		}
	}
}

// A whole list goes out as CSV and comes back line by line, whatever its texts
// hold and however its columns are ordered and parted.
func TestListsComeBackFromCSV(t *testing.T) {
	r := rand.New(rand.NewPCG(9, 40))
	for _, l := range Lists() {
		var rows []Row
		seen := map[string]bool{}
		for n := 0; len(rows) < 40 && n < 8000; n++ {
			row := Row{}
			for k, v := range good[l.ID] {
				row[k] = v
			}
			for range 3 {
				row[l.Columns[r.IntN(len(l.Columns))].Key] = []string{words[r.IntN(len(words))], fmt.Sprint("word ", n), fmt.Sprint(5 + r.IntN(90))}[r.IntN(3)]
			}
			out, err := l.Check(row)
			if err != nil || seen[l.Identity(out)] {
				continue
			}
			seen[l.Identity(out)] = true
			rows = append(rows, out)
		}
		if least := map[bool]int{true: 1, false: 4}[l.ID == Settings]; len(rows) < least { // one setting so far
			t.Errorf("%s: only %d rows were drawn", l.ID, len(rows))
		}
		text := l.WriteCSV(rows)
		for how, change := range map[string]func(string) string{
			"as written":        func(s string) string { return s },
			"a byte order mark": func(s string) string { return "\ufeff" + s },
			"CRLF":              func(s string) string { return strings.ReplaceAll(s, "\n", "\r\n") },
			"empty lines":       func(s string) string { return s + "\n\n" },
		} {
			lines, err := l.ReadCSV(change(text))
			if err != nil || len(lines) != len(rows) {
				t.Errorf("%s, %s: %d lines of %d, %v", l.ID, how, len(lines), len(rows), err)
				continue
			}
			for i, x := range lines {
				if d := l.Difference(rows[i], x.Cells); len(x.Faults) > 0 || d != "" {
					t.Errorf("%s, %s, line %d: %v, %s", l.ID, how, x.Line, x.Faults, d)
				}
				// Over itself a line changes nothing.
				x.Onto(l, rows[i])
				if d := l.Difference(rows[i], x.Cells); d != "" {
					t.Errorf("%s, %s, line %d over itself: %s", l.ID, how, x.Line, d)
				}
			}
		}
	}
}
