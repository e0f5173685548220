package workcard

import (
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
)

// Every card that ships can be done to its end with every answer to what it
// asks: in order, seen by another at the holds, put back in reverse, with
// nothing left over; and not closed one entry earlier.
func TestEveryCardCanBeDone(t *testing.T) {
	for _, c := range Cards() {
		for set := range 1 << len(c.Conditions) {
			r := Run{Card: c}
			for i, x := range c.Conditions {
				r.Answers = append(r.Answers, Answer{x.ID, set>>i&1 == 1})
			}
			open := []Open{{"ratio", "The ratio is not settled", "one reading"}}
			came := 0
			for n := 0; ; n++ {
				s := Sum(r, open)
				if s.Ready {
					t.Fatalf("%s is ready after %d entries, with parts off", c.ID, n)
				}
				if s.Next == "" {
					break
				}
				at := slices.IndexFunc(s.Steps, func(x StepState) bool { return x.ID == s.Next })
				x := s.Steps[at]
				e := entry(Checked, x.ID, "Oda", "by the manual", "as usual")
				switch {
				case x.State == "waiting":
					e = entry(Seen, x.ID, "Piet")
				case x.Gate && s.Gate[0].Answer == "":
					refuse(t, r, open, e, "The ratio is not settled"[4:])
					e = entry(Settled, "ratio", "Oda", "ordered")
				}
				if x.Off != "" && e.Kind == Checked {
					came++
				}
				take(t, &r, open, e)
				if n > 200 {
					t.Fatalf("%s has no end", c.ID)
				}
				// What is left never grows longer by doing.
				if after := Sum(r, open); after.Minutes > s.Minutes || after.Done < s.Done {
					t.Fatalf("%s: %v minutes after %v", c.ID, after.Minutes, s.Minutes)
				}
				if came == 0 && Sum(r, open).Ready {
					break
				}
			}
			s := Sum(r, open)
			if len(s.Back) != came {
				t.Errorf("%s: %d came off, %d go back", c.ID, came, len(s.Back))
			}
			for _, w := range s.Back {
				if w.How == "" || w.Noted != "as usual" {
					t.Errorf("%s: %+v", c.ID, w)
				}
				take(t, &r, open, entry(Back, w.Step, "Piet"))
			}
			if s = Sum(r, open); !s.Ready || len(s.Missing) > 0 || !strings.HasSuffix(s.Title, "all steps done") || s.Minutes != 0 {
				t.Errorf("%s with %v: %+v", c.ID, r.Answers, s.Missing)
			}
		}
	}
}

// Any order of entries, sensible or not, leaves a sheet that adds up: what was
// refused is not in it, and taking back undoes.
func TestAnyOrderOfEntries(t *testing.T) {
	kinds := []string{Checked, Checked, Checked, Checked, Seen, Seen, Back, Back, Back, Settled, Settled, Undone}
	steps := []string{"lines", "cover", "look", "close", "ratio", "moon"}
	open := []Open{{"ratio", "Not settled", ""}}
	next := rand.New(rand.NewPCG(7, 1)).IntN
	taken, ready := 0, 0
	for range 300 {
		r := Run{Card: small(), Answers: []Answer{{"lines", true}}}
		for range 120 {
			e := entry(kinds[next(len(kinds))], steps[next(len(steps))], []string{"Oda", "Piet"}[next(2)], []string{"done", "30 N·m"}[next(2)], []string{"", "as usual"}[next(2)])
			if Take(r, open, e) == nil {
				r.Entries, taken = append(r.Entries, e), taken+1
			}
			s := Sum(r, open)
			done := 0
			for _, x := range s.Steps {
				if x.State == "done" {
					done++
					if x.By == "" || x.At == nil || x.Hold && (x.Second == "" || x.Second == x.By) {
						t.Fatalf("%+v", x)
					}
				}
			}
			if done != s.Done || s.Of != 4 || s.Ready && (s.Done != 4 || len(s.Missing) > 0) || len(s.Back) > 2 {
				t.Fatalf("%+v after %+v", s, r.Entries)
			}
			if s.Steps[3].State == "done" && s.Gate[0].Answer == "" {
				t.Fatalf("closed with the gate open: %+v", r.Entries)
			}
		}
		if Sum(r, open).Ready {
			ready++
		}
	}
	if taken < 3000 || ready == 0 {
		t.Errorf("%d entries were taken, %d cards came to an end", taken, ready)
	}
}
