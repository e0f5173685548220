package store_test

import (
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"testing"

	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

// learner is a person with an account.
func learner(t *testing.T, st *store.Store, name string) int64 {
	t.Helper()
	p, err := st.AddPerson(t.Context(), store.Person{SignIn: name, Name: strings.ToUpper(name), Role: store.Viewer, PasswordHash: "x"})
	if err != nil {
		t.Fatal(err)
	}
	return p.ID
}

func raw(n int) json.RawMessage { return fmt.Appendf(nil, `{"points": %d}`, n) }

// What many devices send at once is each saved once and in the order in which it came; a
// used key names nothing else.
func TestManyHandsPractice(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	id := learner(t, st, "eva")
	for i, err := range together(24, func(i int) error {
		return st.AddPracticed(ctx, id, fmt.Sprint("card ", i%8), fmt.Sprint("content ", i%8), raw(i%8))
	}) {
		if err != nil {
			t.Errorf("hand %d: %v", i, err)
		}
	}
	var used *store.KeyError
	if err := st.AddPracticed(ctx, id, "card 3", "another", raw(9)); !errors.As(err, &used) {
		t.Errorf("another under a used key: %v", err)
	}
	if err := st.AddPracticed(ctx, id+100, "card 3", "content 3", raw(3)); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("for nobody: %v", err)
	}
	list, err := st.Practiced(ctx, id)
	if err != nil || len(list) != 8 {
		t.Fatalf("%d results, %v", len(list), err)
	}
	other, err := st.Practiced(ctx, learner(t, st, "finn"))
	if err != nil || len(other) != 0 {
		t.Errorf("another has %d results, %v", len(other), err)
	}
}

// A learner who goes on for years loses his oldest results, and nothing else.
func TestTheOldestResultsGo(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	id := learner(t, st, "eva")
	var rows []string
	for i := range store.MostPractice {
		rows = append(rows, fmt.Sprintf(`(%d, 'old %d', 'c', '{"points": %d}', NOW(6))`, id, i, i))
	}
	if _, err := st.DB.ExecContext(ctx, "INSERT INTO practice_results (person_id, client_key, content, result, at) VALUES "+
		strings.Join(rows, ",")); err != nil {
		t.Fatal(err)
	}
	for i := range 3 {
		if err := st.AddPracticed(ctx, id, fmt.Sprint("new ", i), "c", raw(-i-1)); err != nil {
			t.Fatal(err)
		}
	}
	list, err := st.Practiced(ctx, id)
	if err != nil || len(list) != store.MostPractice {
		t.Fatalf("%d results, %v", len(list), err)
	}
	points := func(r json.RawMessage) (n int) {
		var x struct{ Points int }
		if err := json.Unmarshal(r, &x); err != nil {
			t.Fatal(err)
		}
		return x.Points
	}
	if first, last := points(list[0]), points(list[len(list)-1]); first != 3 || last != -3 {
		t.Errorf("from %d to %d", first, last)
	}
}

// A learner has no name before he shares, and none after he stops.
func TestLearnersHaveNamesWhenTheyShare(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	eva, finn := learner(t, st, "eva"), learner(t, st, "finn")
	learner(t, st, "gro") // never practices
	for _, id := range []int64{eva, finn, eva} {
		if err := st.AddPracticed(ctx, id, fmt.Sprint("k", id), "c", raw(1)); err != nil {
			t.Fatal(err)
		}
	}
	names := func() (out []string) {
		list, err := st.Learners(ctx)
		if err != nil {
			t.Fatal(err)
		}
		for _, l := range list {
			out = append(out, fmt.Sprintf("%s:%d", l.Name, len(l.Results)))
		}
		return out
	}
	if got := strings.Join(names(), " "); got != ":1 :1" {
		t.Errorf("before anybody shares: %s", got)
	}
	for range 2 {
		if err := st.SharePractice(ctx, finn, true); err != nil {
			t.Fatal(err)
		}
	}
	if got := strings.Join(names(), " "); got != ":1 FINN:1" {
		t.Errorf("Finn shares: %s", got)
	}
	if yes, err := st.SharesPractice(ctx, finn); !yes || err != nil {
		t.Errorf("%v %v", yes, err)
	}
	if err := st.SharePractice(ctx, finn, false); err != nil {
		t.Fatal(err)
	}
	if got := strings.Join(names(), " "); got != ":1 :1" {
		t.Errorf("Finn no longer shares: %s", got)
	}
	if _, err := st.DB.ExecContext(ctx, "UPDATE people SET active = FALSE WHERE id = ?", eva); err != nil {
		t.Fatal(err)
	}
	if got := strings.Join(names(), " "); got != ":1" {
		t.Errorf("Eva has left: %s", got)
	}
}

// A shop has as many tasks as it may, each once, whoever sends them at once.
func TestManyHandsMakeTasks(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	ids := make([]int64, 12)
	for i, err := range together(12, func(i int) (err error) {
		ids[i], err = st.AddPracticeTask(ctx, "the same", "c", raw(1), "Oda")
		return err
	}) {
		if err != nil || ids[i] != ids[0] {
			t.Errorf("hand %d: task %d and %d, %v", i, ids[i], ids[0], err)
		}
	}
	var used *store.KeyError
	if _, err := st.AddPracticeTask(ctx, "the same", "d", raw(2), "Oda"); !errors.As(err, &used) {
		t.Errorf("another under a used key: %v", err)
	}
	var rows []string
	for i := range store.MostTasks - 2 {
		rows = append(rows, fmt.Sprintf(`('t%d', 'c', '{"points": 1}', 'Oda', NOW(6))`, i))
	}
	if _, err := st.DB.ExecContext(ctx, "INSERT INTO practice_tasks (client_key, content, task, by_name, at) VALUES "+
		strings.Join(rows, ",")); err != nil {
		t.Fatal(err)
	}
	full := 0
	for _, err := range together(5, func(i int) error {
		_, err := st.AddPracticeTask(ctx, fmt.Sprint("last ", i), "c", raw(1), "Oda")
		return err
	}) {
		if errors.Is(err, store.ErrInUse) {
			full++
		} else if err != nil {
			t.Error(err)
		}
	}
	list, err := st.PracticeTasks(ctx)
	if err != nil || len(list) != store.MostTasks || full != 4 {
		t.Errorf("%d tasks, %d refused, %v", len(list), full, err)
	}
	if p, err := st.PracticeTask(ctx, ids[0]); err != nil || p.By != "Oda" || p.At.IsZero() {
		t.Errorf("%+v %v", p, err)
	}
	if err := st.RemovePracticeTask(ctx, ids[0]); err != nil {
		t.Error(err)
	}
	if err := st.RemovePracticeTask(ctx, ids[0]); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("removed twice: %v", err)
	}
	if _, err := st.PracticeTask(ctx, ids[0]); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("a removed task: %v", err)
	}
}
