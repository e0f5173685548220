package workcard

import (
	"encoding/json"
	"fmt"
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"
)

// Every card that ships is a document that passes its own check, comes back
// the same, names its tools, has its cautions, a gate before it is closed, and
// for each combination of answers something to do.
func TestCards(t *testing.T) {
	wanted := []string{"turn_by_hand", "lower", "open_axle", "oil_change", "case_off_on", "change_gears", "speedometer_gears", "pinion_stack", "stern_pinion", "reseal", "carrier_other_side", "gearcase", "water_pump"}
	var got []string
	for _, c := range Cards() {
		got = append(got, c.ID)
		data, err := json.Marshal(c)
		if err != nil {
			t.Fatal(err)
		}
		back, err := Parse(data)
		if err != nil || !reflect.DeepEqual(back, c) {
			t.Errorf("%s does not come back: %v", c.ID, err)
		}
		cautions, tools, off, gate := 0, 0, 0, false
		for _, s := range c.Steps {
			if strings.HasSuffix(s.Do, ".") {
				t.Errorf("%s %s ends with a point", c.ID, s.ID)
			}
			if s.Caution != "" {
				cautions++
			}
			if s.With != "" {
				tools++
			}
			if s.Off != "" {
				off++
			}
			gate = gate || s.Gate
		}
		if cautions == 0 || tools == 0 {
			t.Errorf("%s: %d cautions, %d steps with tools", c.ID, cautions, tools)
		}
		if off > 0 && !gate {
			t.Errorf("%s takes things off and has no gate", c.ID)
		}
		for set := range 1 << len(c.Conditions) {
			var a []Answer
			for i, x := range c.Conditions {
				a = append(a, Answer{x.ID, set>>i&1 == 1})
			}
			if err := Begin(c, a); err != nil {
				t.Errorf("%s: %v", c.ID, err)
			}
			if len(c.Applies(a)) < 5 {
				t.Errorf("%s with %v has %d steps", c.ID, a, len(c.Applies(a)))
			}
		}
	}
	if !slices.Equal(got, wanted) {
		t.Errorf("%v", got)
	}
}

// small is a card with everything in it.
func small() Card {
	return Card{ID: "small", Title: "A small job", Conditions: []Condition{{"lines", "Do lines cross the cover?"}}, Steps: []Step{
		{ID: "lines", Do: "Cap the lines", When: []string{"lines"}, Off: "lines", Back: "bleed the brake", Minutes: 5},
		{ID: "cover", Do: "Cover off", With: "socket, knife", Off: "cover", Back: "new gasket", Minutes: 10, Parts: []string{"gasket"}},
		{ID: "look", Do: "Look inside", Hold: true, Minutes: 2},
		{ID: "close", Do: "Close it", Gate: true, Figure: "torque", With: "socket", Minutes: 8},
	}}
}

func entry(kind, step, by string, more ...string) Entry {
	e := Entry{Kind: kind, Step: step, By: by, At: time.Date(2026, 3, 1, 9, 0, 0, 0, time.UTC)}
	if len(more) > 0 {
		e.Figure = more[0]
	}
	if len(more) > 1 {
		e.Note = more[1]
	}
	return e
}

// take is an entry that must be taken.
func take(t *testing.T, r *Run, open []Open, e Entry) {
	t.Helper()
	if err := Take(*r, open, e); err != nil {
		t.Fatalf("%+v: %v", e, err)
	}
	r.Entries = append(r.Entries, e)
}

func refuse(t *testing.T, r Run, open []Open, e Entry, says string) {
	t.Helper()
	if err := Take(r, open, e); err == nil || !strings.Contains(err.Error(), says) {
		t.Errorf("%+v: %v", e, err)
	}
}

// A job from the first step to closing: interrupted, taken up by another
// person, held for a second pair of eyes, kept shut by what is open, and put
// together the way back.
func TestRun(t *testing.T) {
	r := Run{Card: small(), Answers: []Answer{{"lines", true}}}
	open := []Open{{"ratio", "Rear axle: ratio not settled", "assumed only"}}
	s := Sum(r, open)
	if s.Of != 4 || s.Next != "lines" || s.Minutes != 25 || !slices.Equal(s.Tools, []string{"socket", "knife"}) || !slices.Equal(s.Parts, []string{"gasket"}) || s.Ready {
		t.Fatalf("%+v", s)
	}
	refuse(t, r, open, entry(Checked, "lines", "Oda"), "which way round")
	take(t, &r, open, entry(Checked, "lines", "Oda", "", "two lines, capped"))
	take(t, &r, open, entry(Checked, "cover", "Oda", "", "long screws below"))
	refuse(t, r, open, entry(Checked, "cover", "Piet", "", "again"), "Oda has checked it off")
	take(t, &r, open, entry(Checked, "look", "Oda"))
	refuse(t, r, open, entry(Seen, "look", "oda "), "somebody else")
	refuse(t, r, open, entry(Checked, "close", "Piet", "30 N·m"), "look inside; rear axle: ratio not settled")
	take(t, &r, open, entry(Seen, "look", "Piet"))
	refuse(t, r, open, entry(Settled, "ratio", "Piet", "not_now"), "say why")
	refuse(t, r, open, entry(Settled, "ratio", "Piet", "perhaps"), "done, ordered")
	refuse(t, r, open, entry(Settled, "moon", "Piet", "done"), "nothing of that name")
	refuse(t, r, open, entry(Checked, "close", "Piet", "30 N·m"), "ratio not settled")
	take(t, &r, open, entry(Settled, "ratio", "Piet", "not_now", "customer waits, tag is clear"))
	take(t, &r, open, entry(Checked, "close", "Piet"))
	if s = Sum(r, open); s.Ready || len(s.Missing) != 3 || !strings.Contains(s.Missing[0], "write in: torque") || s.Title != "A small job: all steps done, 1 figure not written in, 2 parts not back on" {
		t.Errorf("%+v", s)
	}
	take(t, &r, open, entry(Undone, "close", "Piet"))
	take(t, &r, open, entry(Checked, "close", "Piet", "30 N·m"))
	// The way back, in reverse: it can't be closed with a part left over.
	if s = Sum(r, open); s.Ready || s.Title != "A small job: all steps done, 2 parts not back on" {
		t.Errorf("%+v", s)
	}
	refuse(t, r, open, entry(Back, "lines", "Oda"), "before the cover")
	take(t, &r, open, entry(Back, "cover", "Piet"))
	refuse(t, r, open, entry(Back, "cover", "Oda"), "Piet has put it back")
	refuse(t, r, open, entry(Back, "look", "Oda"), "nothing came off")
	take(t, &r, open, entry(Back, "lines", "Oda"))
	s = Sum(r, open)
	if !s.Ready || s.Done != 4 || s.Title != "A small job: all steps done" || s.Steps[2].Second != "Piet" || s.Gate[0].Answer != "not_now" {
		t.Errorf("%+v", s)
	}
	// The way back is the way in reverse, with what was noted.
	if len(s.Back) != 2 || s.Back[0] != (Way{"cover", "cover", "new gasket", "long screws below", "Oda", "Piet"}) || s.Back[1].What != "lines" {
		t.Errorf("%+v", s.Back)
	}
	for _, e := range []Entry{entry(Checked, "dance", "Oda"), entry("sing", "lines", "Oda"), entry(Seen, "lines", "Piet")} {
		if Take(r, open, e) == nil {
			t.Errorf("%+v was taken", e)
		}
	}
	// What does not hold here is not shown.
	r.Answers = []Answer{{"lines", false}}
	if s := Sum(Run{Card: small(), Answers: r.Answers}, nil); s.Of != 3 || s.Next != "cover" {
		t.Errorf("%+v", s)
	}
}

func TestBegin(t *testing.T) {
	c := small()
	for _, a := range [][]Answer{nil, {{"moon", true}}, {{"lines", true}, {"lines", false}}} {
		if Begin(c, a) == nil {
			t.Errorf("%v was taken", a)
		}
	}
}

func TestParseRefuses(t *testing.T) {
	for text, says := range map[string]string{
		`{}`:                                "id:",
		`{"id":"x","title":"X","steps":[]}`: "steps:",
		`{"id":"x","title":"X","steps":[{"id":"a","do":""}]}`:                                        "steps/0/do:",
		`{"id":"x","title":"X","steps":[{"id":"a","do":"A"},{"id":"a","do":"B"}]}`:                   "steps/1/id:",
		`{"id":"x","title":"X","steps":[{"id":"a","do":"A","when":["moon"]}]}`:                       "when/0:",
		`{"id":"x","title":"X","steps":[{"id":"a","do":"A","bench":"bar"}]}`:                         "bench:",
		`{"id":"x","title":"X","steps":[{"id":"a","do":"A","off":"cover"}]}`:                         "back:",
		`{"id":"x","title":"X","steps":[{"id":"a","do":"A","minutes":-1}]}`:                          "minutes:",
		`{"id":"Big Name","title":"X","steps":[{"id":"a","do":"A"}]}`:                                "id:",
		`{"id":"x","title":"X","steps":[{"id":"a","do":"A"}],"price":3}`:                             "no card",
		`{"id":"x","title":"X","steps":[{"id":"a","do":"A"}]} {}`:                                    "follows the card",
		`{"id":"x","title":"X\nY","steps":[{"id":"a","do":"A"}]}`:                                    "title:",
		fmt.Sprintf(`{"id":"x","title":%q,"steps":[{"id":"a","do":"A"}]}`, strings.Repeat("x", 500)): "title:",
	} {
		if _, err := Parse([]byte(text)); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%s: %v", text, err)
		}
	}
}

func FuzzParse(f *testing.F) {
	for _, c := range Cards() {
		data, _ := json.Marshal(c)
		f.Add(data)
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		c, err := Parse(data)
		if err != nil {
			return
		}
		var a []Answer
		for _, x := range c.Conditions {
			a = append(a, Answer{x.ID, true})
		}
		if err := Begin(c, a); err != nil {
			t.Fatal(err)
		}
		s := Sum(Run{Card: c, Answers: a}, nil)
		if _, err := json.Marshal(s); err != nil || s.Of > len(c.Steps) {
			t.Errorf("%v %+v", err, s)
		}
	})
}
