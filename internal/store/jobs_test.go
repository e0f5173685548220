package store_test

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"testing"
	"time"

	"zorvel/core/workcard"
	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

func takeAll([]store.Work) error { return nil }

func openOne(t *testing.T, st *store.Store, unit int64, key string) int64 {
	t.Helper()
	id, err := st.OpenJob(context.Background(), store.Job{UnitID: unit, Complaint: "No drive",
		Facts: []byte(`{"customer":"Road board"}`), Who: "Ivar", By: "Oda"}, key, "same")
	if err != nil {
		t.Fatal(err)
	}
	return id
}

// closeJob closes a job as its unit stands.
func closeJob(st *store.Store, unit, id int64, handOver string) error {
	rev, err := st.Revision(context.Background(), unit)
	if err != nil {
		return err
	}
	return st.CloseJob(context.Background(), id, rev, "Ivar", handOver)
}

// A job from opening to closing: every line is kept in order, the state and who
// does it follow, minutes add up, and nothing goes in after it is closed.
func TestJobRuns(t *testing.T) {
	st, ctx := testkit.Store(t), context.Background()
	unit := unitOf(t, st, 1).ID
	id := openOne(t, st, unit, "open-key-1")
	if again := openOne(t, st, unit, "open-key-1"); again != id {
		t.Errorf("opened twice: %d and %d", id, again)
	}
	minutes := 45.0
	for i, w := range []store.Work{
		{Kind: store.WorkFinding, Part: "rear", Text: "Sheared"}, {Kind: store.WorkState, What: store.JobOrdered}, {Kind: store.WorkDone, Text: "Renewed", Minutes: &minutes},
		{Kind: store.WorkTaken, What: "Runa"}, {Kind: store.WorkDone, Text: "Oil", Minutes: &minutes},
	} {
		w.UnitID, w.JobID, w.Key, w.By = unit, id, fmt.Sprint("line-key-", i), "Ivar"
		if err := st.EnterWork(ctx, w, takeAll); err != nil {
			t.Fatal(err)
		}
		if err := st.EnterWork(ctx, w, takeAll); err != nil { // sent again
			t.Fatal(err)
		}
	}
	j, err := st.Job(ctx, id)
	if err != nil || j.State != store.JobOrdered || j.Who != "Runa" || j.Minutes != 90 || j.Unit == "" ||
		string(j.Facts) != `{"customer":"Road board"}` {
		t.Fatalf("%+v %v", j, err)
	}
	work, err := st.JobWork(ctx, id)
	if err != nil || len(work) != 6 || work[1].Text != "Sheared" || work[1].Part != "rear" {
		t.Fatalf("%+v %v", work, err)
	}
	seen, err := st.Revision(ctx, unit)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := st.BeginCardRun(ctx, store.CardRun{UnitID: unit, By: "Runa", Run: workcard.Run{Card: job(), Part: "rear"}}); err != nil {
		t.Fatal(err)
	}
	if err := st.CloseJob(ctx, id, seen, "Ivar", ""); !errors.Is(err, store.ErrMoved) {
		t.Errorf("closed over a card that was begun since it was looked at: %v", err)
	}
	if err := closeJob(st, unit, id, "Drive gently"); err != nil {
		t.Fatal(err)
	}
	for name, err := range map[string]error{
		"closed twice": closeJob(st, unit, id, ""),
		"entered":      st.EnterWork(ctx, store.Work{UnitID: unit, JobID: id, Key: "late-key-1", Kind: store.WorkNote, Text: "late", By: "Ivar"}, takeAll),
	} {
		if !errors.Is(err, store.ErrClosed) {
			t.Errorf("%s: %v", name, err)
		}
	}
	// Another job of the unit closes too.
	second := openOne(t, st, unit, "open-key-2")
	if err := closeJob(st, unit, second, ""); err != nil {
		t.Errorf("the second: %v", err)
	}
	open, err1 := st.OpenJobs(ctx)
	closed, err2 := st.ClosedJobs(ctx)
	mine, err3 := st.UnitJobs(ctx, unit)
	if len(open) != 0 || len(closed) != 2 || len(mine) != 2 || err1 != nil || err2 != nil || err3 != nil {
		t.Errorf("%d open, %d closed, %d of the unit", len(open), len(closed), len(mine))
	}
	history, err := st.History(ctx, unit, 0)
	if err != nil || !strings.Contains(fmt.Sprint(history), "Job closed: No drive. Drive gently") {
		t.Errorf("%v %v", history, err)
	}
}

// What a job refuses: another unit's line, a unit that isn't there, more jobs than
// a unit may have.
func TestJobBounds(t *testing.T) {
	st, ctx := testkit.Store(t), context.Background()
	unit, other := unitOf(t, st, 1).ID, unitOf(t, st, 1).ID
	id := openOne(t, st, unit, "open-key-1")
	if err := st.EnterWork(ctx, store.Work{UnitID: other, JobID: id, Key: "line-key-1", Kind: store.WorkNote, Text: "x", By: "Ivar"}, takeAll); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("a line of another unit: %v", err)
	}
	if _, err := st.OpenJob(ctx, store.Job{UnitID: 999999, Complaint: "x", By: "Ivar"}, "open-key-9", ""); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("no such unit: %v", err)
	}
	if _, err := st.Job(ctx, 999999); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("no such job: %v", err)
	}
	if err := closeJob(st, unit, 999999, ""); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("no such job to close: %v", err)
	}
	for i := 1; i < store.MostOpenJobs; i++ {
		openOne(t, st, unit, fmt.Sprint("more-key-", i))
	}
	if _, err := st.OpenJob(ctx, store.Job{UnitID: unit, Complaint: "x", By: "Ivar"}, "too-many-1", ""); !errors.Is(err, store.ErrInUse) {
		t.Errorf("one too many: %v", err)
	}
	// A meter that the judge refuses leaves nothing behind.
	stop := errors.New("less than before")
	if err := st.EnterWork(ctx, store.Work{UnitID: unit, Key: "meter-key-1", Kind: store.WorkMeter, By: "Ivar"}, func([]store.Work) error { return stop }); !errors.Is(err, stop) {
		t.Errorf("%v", err)
	}
	if list, err := st.Served(ctx, unit); len(list) != 0 || err != nil {
		t.Errorf("%v %v", list, err)
	}
}

// Many hands at one job: each line once, the judge sees every meter before its
// own, one of many closes it.
func TestJobUnderManyHands(t *testing.T) {
	st, ctx := testkit.Store(t), context.Background()
	unit := unitOf(t, st, 1).ID
	id := openOne(t, st, unit, "open-key-1")
	start := time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)
	taken := together(24, func(n int) error {
		v := float64(100 - n%2) // half of them would read less than one that is there
		return st.EnterWork(ctx, store.Work{UnitID: unit, JobID: id, Key: fmt.Sprint("meter-key-", n), Kind: store.WorkMeter, Hours: &v, By: "Ivar", DoneAt: start.Add(time.Duration(n) * time.Hour)}, func(before []store.Work) error {
			for _, w := range before {
				if *w.Hours > v {
					return errors.New("less than before")
				}
			}
			return nil
		})
	})
	list, err := st.Served(ctx, unit)
	if err != nil {
		t.Fatal(err)
	}
	n, low := 0, false
	for _, err := range taken {
		if err == nil {
			n++
		}
	}
	if len(list) != n || n < 12 {
		t.Errorf("%d taken, %d kept", n, len(list))
	}
	for _, w := range list {
		for _, b := range list {
			low = low || b.ID < w.ID && *b.Hours > *w.Hours
		}
	}
	if low {
		t.Error("one that read less slipped past another")
	}
	closed := together(12, func(int) error {
		return closeJob(st, unit, id, "")
	})
	n = 0
	for _, err := range closed {
		if err == nil {
			n++
		}
	}
	if n != 1 {
		t.Errorf("closed by %d", n)
	}
}
