package store_test

import (
	"errors"
	"fmt"
	"testing"
	"time"

	"zorvel/core/workcard"
	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

func job() workcard.Card {
	return workcard.Card{ID: "job", Title: "A job", Steps: []workcard.Step{{ID: "off", Do: "Cover off", Off: "cover", Back: "new gasket"}, {ID: "close", Do: "Close it", Gate: true}}}
}

// Many hands check the same step off: one does, the others are told; what is
// sent twice under its key is kept once, also while others write.
func TestManyHandsOnOneCard(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	u := unitOf(t, st, 1)
	id, err := st.BeginCardRun(ctx, store.CardRun{UnitID: u.ID, By: "Oda", Run: workcard.Run{Card: job(), Part: "rear"}})
	if err != nil {
		t.Fatal(err)
	}
	enter := func(key, by, kind, step, note string) error {
		e := workcard.Entry{Kind: kind, Step: step, Note: note, By: by}
		return st.EnterCardRun(ctx, id, key, step+note, e, func(r store.CardRun) error { return workcard.Take(r.Run, nil, e) })
	}
	taken := 0
	for _, err := range together(24, func(i int) error {
		return enter(fmt.Sprint("key-of-", i), fmt.Sprint("Hand ", i), workcard.Checked, "off", "as usual")
	}) {
		if err == nil {
			taken++
		}
	}
	if taken != 1 {
		t.Errorf("%d hands took one cover off", taken)
	}
	for _, err := range together(12, func(int) error { return enter("the-same-key", "Oda", workcard.Back, "off", "") }) {
		if err != nil {
			t.Errorf("sent again: %v", err)
		}
	}
	r, err := st.CardRun(ctx, id)
	if err != nil || len(r.Run.Entries) != 2 || r.Run.Part != "rear" || r.Run.Card.Title != "A job" {
		t.Fatalf("%+v %v", r, err)
	}
	// Closed by one of many; after that nothing goes in, and the record is one.
	if err := enter("close-it", "Oda", workcard.Checked, "close", ""); err != nil {
		t.Fatal(err)
	}
	closed := 0
	for _, err := range together(8, func(int) error {
		rev, err := st.Revision(ctx, u.ID)
		if err != nil {
			return err
		}
		return st.CloseCardRun(ctx, id, rev, "Piet", func(r store.CardRun) (store.Decision, error) {
			return store.Decision{UnitID: r.UnitID, Kind: "card", Title: "A job: all steps done", Question: []byte("{}"), Answer: []byte("{}"), By: "Piet"}, nil
		})
	}) {
		switch {
		case err == nil:
			closed++
		case !errors.Is(err, store.ErrClosed) && !errors.Is(err, store.ErrMoved):
			t.Error(err)
		}
	}
	list, err := st.Decisions(ctx, u.ID)
	if err != nil || closed != 1 || len(list) != 1 {
		t.Errorf("closed %d times, %d records, %v", closed, len(list), err)
	}
	if err := enter("too-late", "Oda", workcard.Undone, "close", ""); !errors.Is(err, store.ErrClosed) {
		t.Errorf("%v", err)
	}
	runs, err := st.CardRuns(ctx, u.ID)
	if err != nil || len(runs) != 1 || runs[0].ClosedBy != "Piet" || runs[0].ClosedAt == nil || time.Since(*runs[0].ClosedAt) > time.Hour {
		t.Errorf("%+v %v", runs, err)
	}
	if _, err := st.CardRun(ctx, id+99); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("%v", err)
	}
	if err := st.EnterCardRun(ctx, id+99, "no-such-run", "", workcard.Entry{}, func(store.CardRun) error { return nil }); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("%v", err)
	}
	if _, err := st.BeginCardRun(ctx, store.CardRun{UnitID: u.ID + 99, Run: workcard.Run{Card: job()}}); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("%v", err)
	}
}

// A unit has only so many cards in hand; closing one makes room.
func TestCardsInHandAreBounded(t *testing.T) {
	st := testkit.Store(t)
	u := unitOf(t, st, 1)
	begun := 0
	for _, err := range together(30, func(int) error {
		_, err := st.BeginCardRun(t.Context(), store.CardRun{UnitID: u.ID, By: "Oda", Run: workcard.Run{Card: job()}})
		return err
	}) {
		switch {
		case err == nil:
			begun++
		case !errors.Is(err, store.ErrInUse):
			t.Error(err)
		}
	}
	if begun != 20 {
		t.Errorf("%d begun", begun)
	}
}

// Of many who keep the same next version of a card, one does.
func TestManyHandsOnACardsVersion(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	kept := 0
	for _, err := range together(12, func(i int) error {
		c := job()
		c.Title = fmt.Sprint("Version of hand ", i)
		_, err := st.KeepCard(ctx, c, 0, "Oda")
		return err
	}) {
		switch {
		case err == nil:
			kept++
		case !errors.Is(err, store.ErrChanged):
			t.Error(err)
		}
	}
	if kept != 1 {
		t.Errorf("%d kept a first version", kept)
	}
	first, err := st.Card(ctx, "job", 0)
	if err != nil || first.Version != 1 {
		t.Fatalf("%+v %v", first, err)
	}
	c := job()
	c.Title = "The second"
	if _, err := st.KeepCard(ctx, c, 1, "Piet"); err != nil {
		t.Fatal(err)
	}
	if old, err := st.Card(ctx, "job", 1); err != nil || old.Card.Title != first.Card.Title {
		t.Errorf("%+v %v", old, err)
	}
	list, err := st.Cards(ctx)
	if err != nil || len(list) != 1 || list[0].Version != 2 || list[0].Card.Title != "The second" || list[0].By != "Piet" {
		t.Errorf("%+v %v", list, err)
	}
	if _, err := st.Card(ctx, "tea", 0); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("%v", err)
	}
}
