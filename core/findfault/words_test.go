package findfault

import (
	"regexp"
	"slices"
	"strings"
	"testing"

	"zorvel/core/driveline"
	"zorvel/core/driveline/breaks"
	"zorvel/core/driveline/trace"
)

// chain is a name that is built of names: "the stub of the half shaft of the wheel".
var chain = regexp.MustCompile(`of the [^.:;,]*of the `)

// Every sentence that is composed for a person, over all layouts and positions of their
// levers: said once, as one sentence, without a chain of names.
func TestComposedSentences(t *testing.T) {
	for _, l := range driveline.Layouts() {
		d := &l.Document
		said := func(where string, list []string) {
			for i, words := range list {
				if words != strings.TrimSpace(words) || strings.Contains(words, "  ") || strings.Contains(words, " at open") {
					t.Errorf("%s, %s: %q isn't a sentence", l.ID, where, words)
				}
				if chain.MatchString(words) {
					t.Errorf("%s, %s: %q is a chain of names", l.ID, where, words)
				}
				if slices.Contains(list[:i], words) {
					t.Errorf("%s, %s: %q is there twice", l.ID, where, words)
				}
			}
		}
		words := func(list []Complaint) (out []string) {
			for _, c := range list {
				out = append(out, c.Words)
			}
			return out
		}
		said("complaints", words(mustComplaints(t, d)))
		for _, st := range positions(t, d) {
			list, err := ComplaintsAt(d, st)
			if err != nil {
				t.Fatal(err)
			}
			said("at a position", words(list))
		}
		var names, shafts []string
		for _, b := range breaks.Of(d) {
			names = append(names, b.Name)
		}
		slices.Sort(names) // one break may be in several places of one part
		said("breaks", slices.Compact(names))
		tr, err := trace.Run(d, driveline.State{}, trace.Want{})
		if err != nil {
			t.Fatal(err)
		}
		for _, sh := range tr.Shafts {
			shafts = append(shafts, sh.Name)
		}
		said("shafts", shafts)
	}
}

// positions are states with each lever in each of its positions.
func positions(t *testing.T, d *driveline.Document) []driveline.State {
	t.Helper()
	info, err := trace.Run(d, driveline.State{}, trace.Want{})
	if err != nil {
		t.Fatal(err)
	}
	out := []driveline.State{{}}
	for i := range info.Selectors {
		for _, o := range info.Selectors[i].Options {
			out = append(out, state(&info.Selectors[i], o))
		}
	}
	return out
}

// everyComplaint is what is said of a driveline, and of each position of its levers.
func everyComplaint(t *testing.T, d *driveline.Document) []Complaint {
	t.Helper()
	list := mustComplaints(t, d)
	for _, st := range positions(t, d) {
		here, err := ComplaintsAt(d, st)
		if err != nil {
			t.Fatal(err)
		}
		for _, c := range here {
			if !slices.ContainsFunc(list, func(x Complaint) bool { return x.ID == c.ID }) && !strings.HasPrefix(c.ID, "drives_") {
				list = append(list, c)
			}
		}
	}
	return list
}
