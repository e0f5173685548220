package store_test

import (
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"sync"
	"sync/atomic"
	"testing"

	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

func shelfRow(name, shelf string) store.CatalogRow {
	return store.CatalogRow{Identity: strings.ToLower(name), Cells: map[string]string{"name": name, "shelf": shelf}}
}

func TestCatalogRowsAndTheirHistory(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	r, err := st.AddCatalogRow(ctx, "adapters", shelfRow("Box", "1"), "Oda")
	if err != nil || r.ID == 0 || r.Version != 1 {
		t.Fatalf("%+v %v", r, err)
	}
	if _, err := st.AddCatalogRow(ctx, "adapters", shelfRow("Box", "9"), "Oda"); !errors.Is(err, store.ErrTaken) {
		t.Errorf("twice the same: %v", err)
	}
	// The same identity in another list is another row.
	if _, err := st.AddCatalogRow(ctx, "tires", shelfRow("Box", "9"), "Oda"); err != nil {
		t.Error(err)
	}
	r.Cells["shelf"] = "2"
	changed, err := st.ChangeCatalogRow(ctx, "adapters", r, "Ivar")
	if err != nil || changed.Version != 2 {
		t.Fatalf("%+v %v", changed, err)
	}
	if _, err := st.ChangeCatalogRow(ctx, "adapters", r, "Oda"); !errors.Is(err, store.ErrChanged) {
		t.Errorf("an old version was changed: %v", err)
	}
	if _, err := st.ChangeCatalogRow(ctx, "tires", changed, "Oda"); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("changed through another list: %v", err)
	}
	if err := st.RemoveCatalogRow(ctx, "adapters", r.ID, "Oda"); err != nil {
		t.Fatal(err)
	}
	if err := st.RemoveCatalogRow(ctx, "adapters", r.ID, "Oda"); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("removed twice: %v", err)
	}
	list, err := st.CatalogChanges(ctx, "adapters", r.ID)
	if err != nil || len(list) != 3 {
		t.Fatalf("%+v %v", list, err)
	}
	if list[0].What != "removed" || list[0].Before["shelf"] != "2" || list[0].After != nil ||
		list[1].What != "changed" || list[1].Before["shelf"] != "1" || list[1].After["shelf"] != "2" || list[1].By != "Ivar" ||
		list[2].What != "added" || list[2].Before != nil {
		t.Errorf("%+v", list)
	}
	sizes, err := st.CatalogSizes(ctx)
	if err != nil || sizes["tires"] != 1 || sizes["adapters"] != 0 {
		t.Errorf("%v %v", sizes, err)
	}
}

// Many change one row at once: one wins each version, the others are told.
func TestCatalogRowUnderContention(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	r, err := st.AddCatalogRow(ctx, "adapters", shelfRow("Box", "1"), "Oda")
	if err != nil {
		t.Fatal(err)
	}
	var wg sync.WaitGroup
	var won atomic.Int64
	for i := range 8 {
		wg.Go(func() {
			x := shelfRow("Box", fmt.Sprint(i+2))
			x.ID, x.Version = r.ID, r.Version
			switch _, err := st.ChangeCatalogRow(ctx, "adapters", x, "Oda"); {
			case err == nil:
				won.Add(1)
			case !errors.Is(err, store.ErrChanged):
				t.Error(err)
			}
		})
	}
	wg.Wait()
	if won.Load() != 1 {
		t.Errorf("%d of 8 changed the same version", won.Load())
	}
}

func TestTakeCatalog(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	var rows []store.CatalogRow
	for i := range 1234 {
		rows = append(rows, shelfRow(fmt.Sprintf("Box %04d", i), "1"))
	}
	added, changed, err := st.TakeCatalog(ctx, "adapters", rows, "Oda", "token-one")
	if err != nil || added != 1234 || changed != 0 {
		t.Fatalf("%d %d %v", added, changed, err)
	}
	if done, total, err := st.ImportProgress(ctx, "token-one"); err != nil || done != 1234 || total != 1234 {
		t.Errorf("%d of %d, %v", done, total, err)
	}
	if _, _, err := st.ImportProgress(ctx, "token-two"); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("%v", err)
	}
	// Again with one changed and one new: the others stay as they are.
	rows[7].Cells = map[string]string{"name": "Box 0007", "shelf": "5"}
	added, changed, err = st.TakeCatalog(ctx, "adapters", append(rows, shelfRow("Box new", "1")), "Ivar", "")
	if err != nil || added != 1 || changed != 1 {
		t.Errorf("%d added, %d changed, %v", added, changed, err)
	}
	list, err := st.CatalogChanges(ctx, "adapters", 0)
	if err != nil || len(list) != 300 || list[0].By != "Ivar" {
		t.Errorf("%d changes, %v", len(list), err)
	}
	// All or nothing: the last row is the same as one before it.
	bad := []store.CatalogRow{shelfRow("Fresh", "1"), shelfRow("Fresh", "2")}
	if _, _, err := st.TakeCatalog(ctx, "adapters", bad, "Oda", ""); !errors.Is(err, store.ErrTaken) {
		t.Errorf("%v", err)
	}
	kept, err := st.CatalogRows(ctx, "adapters")
	if err != nil || len(kept) != 1235 {
		t.Errorf("%d rows, %v", len(kept), err)
	}
	mark, err := st.CatalogMark(ctx, "adapters")
	if err != nil || mark == 0 {
		t.Errorf("%d %v", mark, err)
	}
}

func TestDecisionsAreKept(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	id, err := st.AddUnit(ctx, store.Unit{Name: "Grouse 9", Kind: "truck"}, testkit.Chain(t, 1), "Oda")
	if err != nil {
		t.Fatal(err)
	}
	d, err := st.Decide(ctx, store.Decision{UnitID: id, Kind: "regear", Title: "Fit 4.56", Note: "customer agrees", Question: json.RawMessage(`{"a":1}`), Answer: json.RawMessage(`{"b":2}`), By: "Oda"})
	if err != nil || d.ID == 0 {
		t.Fatal(err)
	}
	list, err := st.Decisions(ctx, id)
	if err != nil || len(list) != 1 || string(list[0].Question) != `{"a":1}` {
		t.Errorf("%+v %v", list, err)
	}
	history, err := st.History(ctx, id, 0)
	if err != nil || history[0].What != "regear" || history[0].Text != "Fit 4.56: customer agrees" {
		t.Errorf("%+v %v", history, err)
	}
	if _, err := st.Decision(ctx, d.ID+1); !errors.Is(err, store.ErrNotFound) {
		t.Error(err)
	}
}

// A shop that began before the lists keeps its gear sets.
func TestGearSetsMoveIntoTheLists(t *testing.T) {
	st := testkit.StoreAt(t, 2)
	ctx := t.Context()
	for _, q := range []string{
		`INSERT INTO gear_sets (name, kind, position, construction, teeth, weight) VALUES ('Varn 220 41-10', 'ring_and_pinion', '', 'pair', '[41, 10]', 8), ('Holt 42-72', 'transfer_case', 'low', 'planetary', '[42,72]', 4)`,
	} {
		if _, err := st.DB.ExecContext(ctx, q); err != nil {
			t.Fatal(err)
		}
	}
	if err := st.Migrate(ctx); err != nil {
		t.Fatal(err)
	}
	rows, err := st.CatalogRows(ctx, "gear_sets")
	if err != nil || len(rows) != 2 {
		t.Fatalf("%+v %v", rows, err)
	}
	if r := rows[1].Cells; r["family"] != "Varn 220" || r["teeth"] != "41-10" || r["weight"] != "8" || rows[1].Identity != "varn 220|ring_and_pinion||pair|41-10" {
		t.Errorf("%+v", rows[1])
	}
}

// Lists keep to themselves, rows stand in the order of what tells them apart,
// and their past outlives them.
func TestListsKeepApart(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	for _, name := range []string{"m", "a", "z"} {
		for _, list := range []string{"adapters", "housings"} {
			if _, err := st.AddCatalogRow(ctx, list, shelfRow(name, "1"), "Oda"); err != nil {
				t.Fatal(err)
			}
		}
	}
	rows, err := st.CatalogRows(ctx, "adapters")
	if err != nil || len(rows) != 3 {
		t.Fatalf("%d rows, %v", len(rows), err)
	}
	before, err := st.CatalogMark(ctx, "housings")
	if err != nil {
		t.Fatal(err)
	}
	if err := st.RemoveCatalogRow(ctx, "adapters", rows[0].ID, "Ivar"); err != nil {
		t.Fatal(err)
	}
	// Of the other list nothing is known under this number, and nothing is new.
	if err := st.RemoveCatalogRow(ctx, "housings", rows[1].ID, "Ivar"); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("a row of another list: %v", err)
	}
	if after, err := st.CatalogMark(ctx, "housings"); err != nil || after != before {
		t.Errorf("%d and then %d, %v", before, after, err)
	}
	sizes, err := st.CatalogSizes(ctx)
	if err != nil || sizes["adapters"] != 2 || sizes["housings"] != 3 {
		t.Errorf("%v, %v", sizes, err)
	}
	past, err := st.CatalogChanges(ctx, "adapters", rows[0].ID)
	if err != nil || len(past) != 2 || past[0].What != "removed" || past[0].By != "Ivar" || past[1].What != "added" || past[0].Before["name"] != rows[0].Cells["name"] {
		t.Errorf("%+v, %v", past, err)
	}
	// What was removed can be there again, as a new row with the same name.
	again, err := st.AddCatalogRow(ctx, "adapters", shelfRow(rows[0].Cells["name"], "4"), "Oda")
	if err != nil || again.ID == rows[0].ID || again.Version != 1 {
		t.Errorf("%+v, %v", again, err)
	}
}

// Decisions stand newest first, only with their unit, and no more than 200 are
// told at once.
func TestDecisionsNewestFirst(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	var units []int64
	for _, name := range []string{"Grouse 9", "Grouse 10"} {
		id, err := st.AddUnit(ctx, store.Unit{Name: name, Kind: "truck"}, testkit.Chain(t, 1), "Oda")
		if err != nil {
			t.Fatal(err)
		}
		units = append(units, id)
	}
	for i := range 205 {
		if _, err := st.Decide(ctx, store.Decision{UnitID: units[0], Kind: "check", Title: fmt.Sprint("check ", i), Question: json.RawMessage(`{}`), Answer: json.RawMessage(`{}`), By: "Ivar"}); err != nil {
			t.Fatal(err)
		}
	}
	list, err := st.Decisions(ctx, units[0])
	if err != nil || len(list) != 200 || list[0].Title != "check 204" || list[199].Title != "check 5" {
		t.Errorf("%d decisions, %v", len(list), err)
	}
	for i := 1; i < len(list); i++ {
		if list[i].ID >= list[i-1].ID || list[i].At.After(list[i-1].At) {
			t.Fatalf("%d stands behind %d", list[i].ID, list[i-1].ID)
		}
	}
	if other, err := st.Decisions(ctx, units[1]); err != nil || len(other) != 0 {
		t.Errorf("%+v, %v", other, err)
	}
}
