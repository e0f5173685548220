package jobfacts

import (
	"encoding/json"
	"errors"
	"reflect"
	"testing"

	"zorvel/api"
	"zorvel/internal/store"
)

// Whatever facts the contract knows come through the table, into what goes out, and
// under a title onto paper.
func TestEveryFactThere(t *testing.T) {
	var facts api.JobFacts
	all := reflect.ValueOf(&facts).Elem()
	for i := range all.NumField() {
		if text, ok := all.Field(i).Addr().Interface().(**string); ok {
			*text = api.Some(all.Type().Field(i).Name)
		}
	}
	stored, err := From(facts)
	if err != nil {
		t.Fatal(err)
	}
	j := store.Job{ID: 7, Facts: stored}
	var sum api.JobSummary
	var doc api.DocumentJob
	for _, v := range []any{&sum, &doc} {
		if err := Into(v, j); err != nil {
			t.Fatal(err)
		}
		if back, err := From(v); err != nil || string(back) != string(stored) {
			t.Errorf("%T: %s for %s, %v", v, back, stored, err)
		}
	}
	told, err := ListOf(j)
	if err != nil || len(told) != all.NumField() {
		t.Fatalf("%d told of %d: %v, %v", len(told), all.NumField(), told, err)
	}
	for _, x := range told {
		if x.Title == "" || x.Text == "" {
			t.Errorf("a fact without a title or text: %q", x)
		}
	}
}

func TestTrimsAndRefuses(t *testing.T) {
	blank, dirty := "  ", " Road board "
	for in, want := range map[*string]string{nil: `{}`, &blank: `{}`, &dirty: `{"customer":"Road board"}`} {
		if got, err := From(api.NewJob{Complaint: "x", Customer: in}); err != nil || string(got) != want {
			t.Errorf("%s for %s, %v", got, want, err)
		}
	}
	var damaged *store.DamagedError
	for _, bad := range []string{``, `[]`, `{"customer":4}`, `{`} {
		if err := Into(&api.JobSummary{}, store.Job{ID: 7, Facts: json.RawMessage(bad)}); !errors.As(err, &damaged) {
			t.Errorf("%q: %v", bad, err)
		}
	}
	// What isn't a fact stays where it is.
	sum := api.JobSummary{Id: 7}
	if err := Into(&sum, store.Job{Facts: json.RawMessage(`{"id":9,"customer":"Road board"}`)}); err != nil ||
		sum.Id != 7 || api.Value(sum.Customer) != "Road board" {
		t.Errorf("%+v, %v", sum, err)
	}
}
