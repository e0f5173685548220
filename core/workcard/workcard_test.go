package workcard

import (
	"strings"
	"testing"
)

// Every card can be done, in order, with its cautions at their steps.
func TestCards(t *testing.T) {
	for _, c := range Cards() {
		seen := map[string]bool{}
		cautions := 0
		for _, s := range c.Steps {
			if s.ID == "" || s.Do == "" || seen[s.ID] || strings.HasSuffix(s.Do, ".") {
				t.Errorf("%s: step %q", c.ID, s.ID)
			}
			seen[s.ID] = true
			if s.Caution != "" {
				cautions++
			}
		}
		if len(c.Steps) < 5 || cautions < 3 {
			t.Errorf("%s has %d steps and %d cautions", c.ID, len(c.Steps), cautions)
		}
	}
}

func TestSum(t *testing.T) {
	c := Checks{Card: "change_gears"}
	s, err := Sum(c)
	if err != nil || s.Done != 0 || len(s.Missing) != len(s.Card.Steps) || s.Title != "Swap change gears: 0 of 14 steps" {
		t.Fatalf("%+v %v", s, err)
	}
	for _, st := range s.Card.Steps {
		c.Checks = append(c.Checks, Check{Step: st.ID})
	}
	if s, err = Sum(c); err != nil || s.Done != 14 || s.Title != "Swap change gears: all steps done, 4 figures not written in" {
		t.Errorf("%+v %v", s, err)
	}
	for i := range c.Checks {
		c.Checks[i].Figure = "as the manual"
	}
	if s, err = Sum(c); err != nil || len(s.Missing) != 0 || s.Title != "Swap change gears: all steps done" {
		t.Errorf("%+v %v", s, err)
	}
	for _, bad := range []Checks{{Card: "none"}, {Card: "change_gears", Checks: []Check{{Step: "dance"}}}, {Card: "change_gears", Checks: []Check{{Step: "out"}, {Step: "out"}}}} {
		if _, err := Sum(bad); err == nil {
			t.Errorf("%+v was taken", bad)
		}
	}
}
