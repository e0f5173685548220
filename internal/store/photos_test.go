package store_test

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"testing"

	"zorvel/core/find"
	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

func shot(unit int64, key string) store.Photo {
	return store.Photo{UnitID: unit, Key: key, Title: "Ring gear", Part: "rear", Width: 40, Height: 30, By: "Ivar"}
}

// A photo is kept once under its key, with both sizes, and marked over the version
// that was seen.
func TestPhotoIsKeptOnce(t *testing.T) {
	st, ctx := testkit.Store(t), context.Background()
	unit := unitOf(t, st, 1).ID
	id, err := st.AddPhoto(ctx, shot(unit, "photo-key-1"), []byte("full"), []byte("thumb"))
	if err != nil {
		t.Fatal(err)
	}
	if again, err := st.AddPhoto(ctx, shot(unit, "photo-key-1"), []byte("other"), []byte("other")); err != nil || again != id {
		t.Errorf("%d %v", again, err)
	}
	for size, want := range map[string]string{"full": "full", "thumb": "thumb"} {
		if data, err := st.Picture(ctx, id, size); err != nil || string(data) != want {
			t.Errorf("%s: %q %v", size, data, err)
		}
	}
	marks := json.RawMessage(`[{"x":1,"y":2}]`)
	if err := st.MarkPhoto(ctx, id, 1, "Ring gear, marked", marks, nil); err != nil {
		t.Fatal(err)
	}
	if err := st.MarkPhoto(ctx, id, 1, "late", marks, nil); !errors.Is(err, store.ErrChanged) {
		t.Errorf("over an older version: %v", err)
	}
	p, err := st.Photo(ctx, id)
	if err != nil || p.Version != 2 || p.Title != "Ring gear, marked" || p.Bytes != 4 || p.Part != "rear" {
		t.Errorf("%+v %v", p, err)
	}
	for name, err := range map[string]error{
		"no such photo":   second(st.Photo(ctx, 999)),
		"no such picture": second(st.Picture(ctx, 999, "full")),
		"nothing to mark": st.MarkPhoto(ctx, 999, 1, "", marks, nil),
		"no such unit":    second(st.AddPhoto(ctx, shot(999, "photo-key-2"), nil, nil)),
	} {
		if !errors.Is(err, store.ErrNotFound) {
			t.Errorf("%s: %v", name, err)
		}
	}
}

func second[T any](_ T, err error) error { return err }

// A photo goes with a job of its own unit only.
func TestPhotoOfAJob(t *testing.T) {
	st, ctx := testkit.Store(t), context.Background()
	unit, other := unitOf(t, st, 1).ID, unitOf(t, st, 1).ID
	job := openOne(t, st, unit, "open-key-1")
	p := shot(other, "photo-key-1")
	p.JobID = job
	if _, err := st.AddPhoto(ctx, p, nil, nil); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("another unit's job: %v", err)
	}
	p.UnitID = unit
	id, err := st.AddPhoto(ctx, p, []byte("x"), []byte("y"))
	if err != nil {
		t.Fatal(err)
	}
	list, err := st.Photos(ctx, unit)
	if err != nil || len(list) != 1 || list[0].ID != id || list[0].JobID != job {
		t.Errorf("%+v %v", list, err)
	}
	if list, err := st.Photos(ctx, other); err != nil || len(list) != 0 {
		t.Errorf("%+v %v", list, err)
	}
}

// Many hands send one photo and mark another: one of each comes through.
func TestPhotosUnderManyHands(t *testing.T) {
	st, ctx := testkit.Store(t), context.Background()
	unit := unitOf(t, st, 1).ID
	for i, err := range together(12, func(int) error {
		_, err := st.AddPhoto(ctx, shot(unit, "photo-key-1"), []byte("x"), []byte("y"))
		return err
	}) {
		if err != nil {
			t.Errorf("%d: %v", i, err)
		}
	}
	list, err := st.Photos(ctx, unit)
	if err != nil || len(list) != 1 {
		t.Fatalf("%d photos, %v", len(list), err)
	}
	won := 0
	for _, err := range together(12, func(n int) error {
		return st.MarkPhoto(ctx, list[0].ID, 1, fmt.Sprint("by ", n), json.RawMessage("[]"), nil)
	}) {
		switch {
		case err == nil:
			won++
		case !errors.Is(err, store.ErrChanged):
			t.Error(err)
		}
	}
	if won != 1 {
		t.Errorf("%d marked over one version", won)
	}
}

// What a unit is found by is stale as soon as it changes, and fresh once it is made;
// words of the name lead.
func TestSearchDocs(t *testing.T) {
	st, ctx := testkit.Store(t), context.Background()
	first, second := unitOf(t, st, 1).ID, unitOf(t, st, 1).ID
	stale, err := st.StaleSearch(ctx, 0, 10)
	if err != nil || len(stale) != 2 {
		t.Fatalf("%+v %v", stale, err)
	}
	for _, x := range stale {
		name, body := "plow", "harbor "+find.Index("4.10")
		if x.ID == second {
			name, body = "harbor tender", "plow"
		}
		if err := st.PutSearch(ctx, x, store.Found{Name: name, Body: body}, ""); err != nil {
			t.Fatal(err)
		}
	}
	if stale, err := st.StaleSearch(ctx, 0, 10); err != nil || len(stale) != 0 {
		t.Errorf("%+v %v", stale, err)
	}
	for sought, want := range map[string][]int64{"harbor": {second, first}, "plow": {first, second}, "4.10": {first}, "plo har": {first, second}, "tender plow": {second}, "moon": nil, "te": {second}, "or": nil} {
		list, total, err := st.Units(ctx, store.Asked{Words: find.Query(sought), Order: store.ByMatch})
		if total != len(want) {
			t.Errorf("%q: %d in all, want %d", sought, total, len(want))
		}
		if err != nil {
			t.Fatal(err)
		}
		got := map[int64]bool{}
		for _, u := range list {
			got[u.ID] = true
		}
		if len(list) != len(want) {
			t.Errorf("%q finds %d units", sought, len(list))
			continue
		}
		for _, id := range want {
			if !got[id] {
				t.Errorf("%q does not find %d", sought, id)
			}
		}
		if len(want) > 0 && sought != "plo har" && list[0].ID != want[0] {
			t.Errorf("%q: %d leads", sought, list[0].ID)
		}
	}
	// A line in a job makes it stale again.
	openOne(t, st, first, "open-key-1")
	if stale, err := st.StaleSearch(ctx, 0, 10); err != nil || len(stale) != 1 || stale[0].ID != first {
		t.Errorf("%+v %v", stale, err)
	}
	if err := st.ClearSearch(ctx); err != nil {
		t.Fatal(err)
	}
	if stale, err := st.StaleSearch(ctx, 0, 10); err != nil || len(stale) != 2 {
		t.Errorf("%+v %v", stale, err)
	}
}
