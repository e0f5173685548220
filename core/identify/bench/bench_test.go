package bench_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"zorvel/core/identify"
	"zorvel/core/identify/bench"
)

func Example() {
	var b bench.Bench
	_, answer := b.Answer("identify", []byte(`{"stage": {"kind": "ring_and_pinion"}, "readings": [{"method": "teeth", "teeth": {"ring": 41, "pinion": 10}}]}`))
	var v bench.Verdict
	if err := json.Unmarshal(answer, &v); err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(v.Label.Label, v.State, v.Best.Build.Teeth)
	// Output: 4.10 assumed [{ring 41} {pinion 10}]
}

func answer(t *testing.T, b *bench.Bench, path, body string, status int, to any) {
	t.Helper()
	got, text := b.Answer(path, []byte(body))
	if got != status {
		t.Fatalf("%s %s: %d %s, want %d", path, body, got, text, status)
	}
	if err := json.Unmarshal(text, to); err != nil {
		t.Fatalf("%s: %v in %s", path, err, text)
	}
}

// A tag and a count that disagree, the shop's order, and every kind of stage: the
// answers hold together.
func TestAnswers(t *testing.T) {
	var b bench.Bench
	var v bench.Verdict
	answer(t, &b, "identify", `{"stage":{"kind":"ring_and_pinion"},"readings":[{"method":"tag","text":"4.10"},{"method":"teeth","teeth":{"ring":47,"pinion":9}}],"prior":"shop","candidates":5}`, 200, &v)
	if v.State != identify.Conflict || v.Label.Label != "5.22" || len(v.Findings) != 2 || len(v.Candidates) > 5 || len(v.Next) != 2 {
		t.Errorf("%+v", v)
	}
	answer(t, &b, "identify", `{"stage":{"kind":"ring_and_pinion"},"readings":[{"method":"tag","text":"4.10"}],"order":{"label":"4.10"}}`, 200, &v)
	if v.Gate == nil || v.State != identify.Assumed {
		t.Errorf("with an order: %+v", v)
	}
	weight := `{"stage":{"kind":"ring_and_pinion"},"readings":[{"method":"tag","text":"4.11"}],"catalog":[{"construction":"pair","teeth":[37,9],"weight":50}]}`
	answer(t, &b, "identify", weight, 200, &v)
	if v.FromCatalog == 0 || v.Best == nil || v.Best.Build.Teeth[0].Count != 37 {
		t.Errorf("with a known build: %+v", v.Best)
	}
	for _, kind := range identify.Kinds() {
		for _, pos := range bench.Positions(kind) {
			var v bench.Verdict
			answer(t, &b, "identify", fmt.Sprintf(`{"stage":{"kind":%q,"position":%q},"readings":[]}`, kind, pos), 200, &v)
			if v.State != identify.Unknown || v.Labels == nil || v.Candidates == nil || v.Findings == nil || v.Checks == nil || len(v.Next) != 2 {
				t.Errorf("%s %s: %+v", kind, pos, v)
			}
		}
	}
}

func TestWordsAndKnowledge(t *testing.T) {
	var b bench.Bench
	var e bench.Echo
	answer(t, &b, "echo", `{"text":"just short of 4","as":"shaft","stage":{"kind":"ring_and_pinion"}}`, 200, &e)
	if e.Sentence == "" || e.Choices == nil {
		t.Errorf("%+v", e)
	}
	var k bench.Knowledge
	answer(t, &b, "knowledge", "", 200, &k)
	if len(k.Stages) != len(identify.Kinds()) || len(k.Models) == 0 {
		t.Errorf("%d stages, %d models", len(k.Stages), len(k.Models))
	}
	for _, s := range k.Stages {
		if len(s.Constructions) == 0 || s.Positions == nil {
			t.Errorf("%s: %+v", s.Kind, s)
		}
		for _, c := range s.Constructions {
			for _, x := range c.Teeth {
				if x.Min < 1 || x.Max < x.Min || x.Words == "" {
					t.Errorf("%s %s: %+v", s.Kind, c.ID, x)
				}
			}
		}
	}
}

// What can't be is told at its field, as the server would; nothing makes it panic.
func TestRefusals(t *testing.T) {
	var b bench.Bench
	for _, c := range []struct {
		path, body string
		status     int
		field      string
	}{
		{"identify", `{"stage":{"kind":"ring_and_pinion"},"readings":[{"method":"teeth","teeth":{"ring":41,"pinion":0}}]}`, 422, "/readings/0/teeth/pinion"},
		{"identify", `{"stage":{"kind":"rocket"},"readings":[]}`, 422, ""},
		{"identify", `{"stage":`, 422, ""},
		{"identify", ``, 422, ""},
		{"identify", `[]`, 422, ""},
		{"identify", `{"stage":{"kind":"ring_and_pinion"},"readings":[],"catalog":[{"construction":"magic","teeth":[1]}]}`, 422, ""},
		{"echo", `{"text":"` + strings.Repeat("9", 500) + `","as":"shaft","stage":{"kind":"ring_and_pinion"}}`, 422, ""},
		{"regear", `{}`, 404, ""},
	} {
		var p struct {
			Detail string
			Errors []struct{ Field, Message string }
		}
		answer(t, &b, c.path, c.body, c.status, &p)
		if p.Detail == "" || c.field != "" && (len(p.Errors) == 0 || p.Errors[0].Field != c.field) {
			t.Errorf("%s %.80s: %+v", c.path, c.body, p)
		}
	}
}
