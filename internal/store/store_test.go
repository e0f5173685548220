package store_test

import (
	"encoding/json"
	"errors"
	"fmt"
	"math/rand/v2"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

func TestMain(m *testing.M) { testkit.Main(m) }

func reading(text string) store.Reading {
	return store.Reading{Method: "tag", Data: json.RawMessage(`{"method":"tag","text":"` + text + `"}`), By: "Oda", Text: "Tag says " + text}
}

func TestMigrateTwiceAndRefuseNewer(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	if err := st.Migrate(ctx); err != nil {
		t.Fatalf("a second start: %v", err)
	}
	if _, err := st.DB.ExecContext(ctx, "INSERT INTO goose_db_version (version_id, is_applied) VALUES (99999, 1)"); err != nil {
		t.Fatal(err)
	}
	if err := st.Migrate(ctx); !errors.Is(err, store.ErrNewer) {
		t.Errorf("a newer schema: %v", err)
	}
}

func TestOpenSaysWhatIsWrong(t *testing.T) {
	if _, err := store.Open(t.Context(), "nonsense"); err == nil || !strings.Contains(err.Error(), "not understood") {
		t.Errorf("nonsense address: %v", err)
	}
	if _, err := store.Open(t.Context(), "u:p@tcp(127.0.0.1:1)/x"); err == nil || !strings.Contains(err.Error(), "does not answer") {
		t.Errorf("absent database: %v", err)
	}
}

func TestOneOwnerOnly(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	var wg sync.WaitGroup
	errs := make([]error, 6)
	for i := range errs {
		wg.Go(func() {
			_, errs[i] = st.CreateOwner(ctx, store.Person{SignIn: fmt.Sprint("p", i), Name: "P", PasswordHash: "h"})
		})
	}
	wg.Wait()
	made := 0
	for _, err := range errs {
		if err == nil {
			made++
		}
	}
	people, err := st.People(ctx)
	if err != nil || made != 1 || len(people) != 1 || people[0].Role != store.Owner {
		t.Fatalf("%d owners made, people %+v, %v, %v", made, people, err, errs)
	}
	p := people[0]
	viewer := store.Viewer
	if _, _, err := st.ChangePerson(ctx, p.ID, store.PersonChange{Role: &viewer}); !errors.Is(err, store.ErrInUse) {
		t.Errorf("the last owner stepped down: %v", err)
	}
	if _, err := st.AddPerson(ctx, store.Person{SignIn: p.SignIn, Name: "Q", Role: store.Viewer, PasswordHash: "h"}); !errors.Is(err, store.ErrTaken) {
		t.Errorf("a sign-in name given twice: %v", err)
	}
	if _, err := st.PersonBySignIn(ctx, "nobody"); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("nobody: %v", err)
	}
}

// Many tries at once are counted one by one, a stranger's don't reach a person
// elsewhere, and a device that signed in before has its own.
func TestTriesAreCountedOneByOne(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	oda, err := st.CreateOwner(ctx, store.Person{SignIn: "oda", Name: "Oda", PasswordHash: "h"})
	if err != nil {
		t.Fatal(err)
	}
	let := func(n int, at store.Place) int {
		var in atomic.Int64
		for i, err := range together(n, func(int) error {
			wait, err := st.SignInTry(ctx, "oda", at)
			if err == nil && wait == 0 {
				in.Add(1)
			}
			return err
		}) {
			if err != nil {
				t.Errorf("try %d: %v", i, err)
			}
		}
		return int(in.Load())
	}
	stranger, home := store.Place{Address: "192.0.2.1"}, store.Place{Address: "192.0.2.9"}
	if n := let(60, stranger); n != 8 {
		t.Errorf("%d of 60 tries at once were let through, want 8", n)
	}
	if n := let(1, home); n != 1 {
		t.Error("a stranger's tries hold a person up elsewhere")
	}
	if err := st.SignInWorked(ctx, oda, "oda", home, "tablet"); err != nil {
		t.Fatal(err)
	}
	for i := range 20 { // a stranger with many addresses
		let(8, store.Place{Address: fmt.Sprint("198.51.100.", i)})
	}
	if n := let(1, store.Place{Address: "203.0.113.7"}); n != 0 {
		t.Error("after a hundred wrong tries from everywhere an unknown device still guesses")
	}
	known, err := st.KnowsDevice(ctx, "oda", "tablet")
	if other, _ := st.KnowsDevice(ctx, "ivar", "tablet"); err != nil || !known || other {
		t.Errorf("the device is known %v, to another account %v, %v", known, other, err)
	}
	tablet := store.Place{Address: "203.0.113.7", Device: "tablet"}
	if n := let(12, tablet); n != 8 {
		t.Errorf("the person's own device: %d of 12, want 8", n)
	}
	if wait, err := st.SignInTry(ctx, "oda", tablet); err != nil || wait <= 0 || wait > 2*time.Second {
		t.Errorf("the ninth waits %v, %v", wait, err)
	}
	if err := st.SignInWorked(ctx, oda, "oda", tablet, "tablet"); err != nil {
		t.Fatal(err)
	}
	if n := let(1, tablet); n != 1 {
		t.Error("success doesn't clear the tries")
	}
}

// A unit's stages follow its driveline: what is asked has one, what was read at
// a part that is gone stays.
func TestStagesFollowTheDriveline(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	id, err := st.AddUnit(ctx, store.Unit{Name: "Grouse 4", Kind: "truck"}, testkit.Layout(t, "part_time"), "Oda")
	if err != nil {
		t.Fatal(err)
	}
	version := int64(1)
	keep := func(layout string) {
		t.Helper()
		d := testkit.Layout(t, layout)
		d.UnitID, d.Version = id, version
		if err := st.KeepDriveline(ctx, d, "Driveline changed"); err != nil {
			t.Fatal(err)
		}
		version++
	}
	at := func(part, ratio string) (store.Stage, bool) {
		t.Helper()
		u, err := st.Unit(ctx, id)
		if err != nil {
			t.Fatal(err)
		}
		for _, v := range u.Stages {
			if v.Part == part && v.Ratio == ratio {
				return v, true
			}
		}
		return store.Stage{}, false
	}
	front, _ := at("front", "ratio")
	rear, _ := at("rear", "ratio")
	low, ok := at("case", "low")
	if !ok || low.Name != "Transfer case low range" || low.Kind != "transfer_case" || low.Position != "low" || !low.Present {
		t.Fatalf("%+v", low)
	}
	if err := st.AddReadings(ctx, front, []store.Reading{reading("4.10")}, 200); err != nil {
		t.Fatal(err)
	}
	keep("rear_drive")
	if now, ok := at("front", "ratio"); !ok || now.Present || now.Taken != 1 || now.ID != front.ID {
		t.Errorf("the front axle's readings: %+v, %v", now, ok)
	}
	if _, ok := at("case", "low"); ok {
		t.Error("nothing was read in low, and it is still there")
	}
	if now, _ := at("rear", "ratio"); now.ID != rear.ID {
		t.Errorf("the rear axle's stage was %d and is %d", rear.ID, now.ID)
	}
	keep("part_time")
	if now, _ := at("front", "ratio"); !now.Present || now.ID != front.ID {
		t.Errorf("the front axle is back: %+v", now)
	}
	u, _ := st.Unit(ctx, id)
	if first, last := u.Stages[0], u.Stages[len(u.Stages)-1]; first.Name != "Gearbox 1st gear" || last.Part != "front" {
		t.Errorf("from %s to %s", first.Name, last.Name)
	}
	if err := st.ChangeUnit(ctx, store.Unit{ID: id + 1, Name: "x", Kind: "van"}, "Oda", "x"); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("changed a unit that isn't there: %v", err)
	}
}

// Gears that are swapped begin unknown; what was read of the former ones stays
// on record and counts no longer.
func TestFittings(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	id, err := st.AddUnit(ctx, store.Unit{Name: "Grouse 4", Kind: "truck"}, testkit.Layout(t, "part_time"), "Oda")
	if err != nil {
		t.Fatal(err)
	}
	stage := func(part string) store.Stage {
		t.Helper()
		u, err := st.Unit(ctx, id)
		if err != nil {
			t.Fatal(err)
		}
		for _, v := range u.Stages {
			if v.Part == part {
				return v
			}
		}
		t.Fatal("no stage of the " + part)
		return store.Stage{}
	}
	before, front := stage("rear"), stage("front")
	old := reading("4.10")
	old.Key = "old"
	if err := errors.Join(st.AddReadings(ctx, before, []store.Reading{old}, 200), st.AddReadings(ctx, front, []store.Reading{reading("4.11")}, 200)); err != nil {
		t.Fatal(err)
	}
	swap := func(version int64) error {
		d := testkit.Layout(t, "part_time")
		d.UnitID, d.Version, d.By = id, version, "Ivar"
		return st.Fit(ctx, store.Fitting{UnitID: id, Part: "rear", What: "gears_swapped", Note: "4.56 fitted", Former: json.RawMessage(`{"id":"rear","kind":"axle","name":"Rear axle"}`), By: "Ivar"}, d)
	}
	if err := swap(1); err != nil {
		t.Fatal(err)
	}
	if err := swap(1); !errors.Is(err, store.ErrChanged) {
		t.Errorf("swapped over a version that was not seen: %v", err)
	}
	now := stage("rear")
	if now.ID != before.ID || now.Standing != 0 || now.Taken != 1 || now.Since == 0 || now.Newest == before.Newest {
		t.Errorf("after the swap: %+v", now)
	}
	if x := stage("front"); x.Standing != 1 || x.Since != 0 {
		t.Errorf("the front axle wasn't touched: %+v", x)
	}
	// Counted before the swap was seen: refused, unless it was kept already.
	if err := st.AddReadings(ctx, before, []store.Reading{reading("4.56")}, 200); !errors.Is(err, store.ErrChanged) {
		t.Errorf("a reading of the former gears: %v", err)
	}
	if err := st.AddReadings(ctx, before, []store.Reading{old}, 200); err != nil {
		t.Errorf("what is kept already, sent again: %v", err)
	}
	if err := st.AddReadings(ctx, now, []store.Reading{reading("4.56")}, 1); err != nil {
		t.Errorf("the former readings take no room: %v", err)
	}
	if now = stage("rear"); now.Standing != 1 || now.Taken != 2 {
		t.Errorf("with a new reading: %+v", now)
	}
	list, err := st.Fittings(ctx, id)
	if err != nil || len(list) != 1 || list[0].What != "gears_swapped" || list[0].By != "Ivar" || list[0].ID != now.Since {
		t.Errorf("%+v %v", list, err)
	}
	events, _ := st.History(ctx, id, 0)
	if events[1].What != "fitting" || events[1].Text != "Rear axle: gears swapped in this housing: 4.56 fitted" {
		t.Errorf("history %+v", events[1])
	}
}

func TestReadingsAreAppendOnly(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	id, err := st.AddUnit(ctx, store.Unit{Name: "Auk", Kind: "boat"}, testkit.Layout(t, "loose_gearcase"), "Oda")
	if err != nil {
		t.Fatal(err)
	}
	u, _ := st.Unit(ctx, id)
	v := u.Stages[0]
	a := reading("2.08")
	a.Key = "k1"
	for range 2 { // sent twice, stored once
		if err := st.AddReadings(ctx, v, []store.Reading{a}, 200); err != nil {
			t.Fatal(err)
		}
	}
	rows, err := st.Readings(ctx, v.ID)
	if err != nil || len(rows) != 1 {
		t.Fatalf("%d readings, %v", len(rows), err)
	}
	if err := st.Strike(ctx, v, rows[0].ID, store.Strike{By: "Ivar", Reason: "wrong boat"}, "Tag says 2.08"); err != nil {
		t.Fatal(err)
	}
	if err := st.Strike(ctx, v, rows[0].ID, store.Strike{By: "Ivar", Reason: "again"}, "x"); !errors.Is(err, store.ErrStruck) {
		t.Errorf("struck twice: %v", err)
	}
	rows, _ = st.Readings(ctx, v.ID)
	if rows[0].Struck == nil || rows[0].Struck.By != "Ivar" || rows[0].Struck.Reason != "wrong boat" || !strings.Contains(string(rows[0].Data), "2.08") {
		t.Errorf("the struck reading is %+v", rows[0])
	}
	after, _ := st.Stage(ctx, v.ID)
	if after.Standing != 0 || after.Newest == v.Newest {
		t.Errorf("stage %+v", after)
	}
	events, err := st.History(ctx, id, 0)
	if err != nil || len(events) != 3 || events[0].What != "strike" || events[1].What != "reading" || events[2].What != "unit_added" {
		t.Errorf("history %+v, %v", events, err)
	}
}

func TestImportIsAllOrNothing(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	bad := reading("4.10")
	bad.Data = json.RawMessage("{not json")
	measured := []store.Kept{{Stage: store.Stage{Part: "pair_0", Ratio: "ratio", Name: "Pair", Kind: "gear_pair"}, Readings: []store.Reading{reading("4.10"), bad}}}
	if _, err := st.ImportUnit(ctx, store.Import{Unit: store.Unit{Name: "Half", Kind: "van"}, Driveline: testkit.Chain(t, 1), Measured: measured, By: "Oda"}); err == nil {
		t.Fatal("broken data was stored")
	}
	units, _, err := st.Units(ctx, store.Asked{})
	if err != nil || len(units) != 0 {
		t.Errorf("left behind: %+v, %v", units, err)
	}
}

func TestSearchTakesWildcardsLiterally(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	for _, n := range []string{"Grouse 4", "100 % electric", "under_score"} {
		if _, err := st.AddUnit(ctx, store.Unit{Name: n, Kind: "truck"}, testkit.Chain(t, 1), "Oda"); err != nil {
			t.Fatal(err)
		}
	}
	for search, want := range map[string]int{"": 3, "grouse": 1, "%": 1, "_": 1, `\`: 0, "x' OR '1'='1": 0} {
		units, _, err := st.Units(ctx, store.Asked{Name: search})
		if err != nil || len(units) != want {
			t.Errorf("%q found %d, want %d, %v", search, len(units), want, err)
		}
	}
}

// Lists are read through indexes, in any size of shop.
func TestQueryPlans(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	for i := range 60 {
		if _, err := st.AddUnit(ctx, store.Unit{Name: fmt.Sprint("Unit ", i), Kind: "truck"}, testkit.Chain(t, 2), "Oda"); err != nil {
			t.Fatal(err)
		}
	}
	for query, index := range map[string]string{
		"SELECT id FROM units ORDER BY changed_at DESC, id DESC LIMIT 20":                          "units_changed",
		"SELECT id FROM stages WHERE unit_id = 7 ORDER BY ordinal, id":                             "stages_line",
		"SELECT id FROM readings WHERE stage_id = 7 ORDER BY id":                                   "readings_",
		"SELECT id FROM events WHERE unit_id = 7 ORDER BY at DESC, id DESC LIMIT 1000":             "events_unit",
		"SELECT version, document FROM drivelines WHERE unit_id = 7 ORDER BY version DESC LIMIT 1": "drivelines_version",
		"SELECT id, cells FROM catalog_rows WHERE list = 'tires' ORDER BY identity LIMIT 20000":    "catalog_rows_identity",
		"SELECT id FROM catalog_changes WHERE list = 'tires' ORDER BY id DESC LIMIT 300":           "catalog_changes_list",
		"SELECT id FROM decisions WHERE unit_id = 7 ORDER BY at DESC, id DESC LIMIT 200":           "decisions_unit",
		"SELECT id FROM shop_parts WHERE kind = 'axle' ORDER BY kind, maker, name LIMIT 2000":      "shop_parts_name",
		"SELECT SUM(tries) FROM sign_in_tries WHERE place = '192.0.2.1' AND last_at > NOW()":       "sign_in_tries_",
	} {
		var plan string
		if err := st.DB.QueryRowContext(ctx, "EXPLAIN FORMAT=JSON "+query).Scan(&plan); err != nil {
			t.Fatal(err)
		}
		if !strings.Contains(plan, `"key": "`+index) {
			t.Errorf("%s doesn't use %s:\n%s", query, index, plan)
		}
	}
}

func TestDrivelineVersions(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	id, err := st.AddUnit(ctx, store.Unit{Name: "Grouse 9", Kind: "truck"}, testkit.Chain(t, 1), "Oda")
	if err != nil {
		t.Fatal(err)
	}
	if _, err := st.Driveline(ctx, id+1); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("a driveline from nowhere: %v", err)
	}
	keep := func(base int64, pairs int) error {
		d := testkit.Chain(t, pairs)
		d.UnitID, d.Version, d.By = id, base, "Oda"
		return st.KeepDriveline(ctx, d, "Driveline changed")
	}
	if err := keep(1, 2); err != nil {
		t.Fatal(err)
	}
	if err := keep(1, 3); !errors.Is(err, store.ErrChanged) {
		t.Errorf("an old base was kept: %v", err)
	}
	d, err := st.Driveline(ctx, id)
	if err != nil || d.Version != 2 || !strings.Contains(string(d.Document), "pair_1") || d.By != "Oda" {
		t.Errorf("%+v %v", d, err)
	}
	// Many at once: one of them wins, the others are told.
	var wg sync.WaitGroup
	var won atomic.Int64
	for range 8 {
		wg.Go(func() {
			switch err := keep(2, 4); {
			case err == nil:
				won.Add(1)
			case !errors.Is(err, store.ErrChanged):
				t.Error(err)
			}
		})
	}
	wg.Wait()
	if won.Load() != 1 {
		t.Errorf("%d of 8 writers kept the same version", won.Load())
	}
	var n int
	if err := st.DB.QueryRowContext(ctx, "SELECT COUNT(*) FROM drivelines").Scan(&n); err != nil || n != 3 {
		t.Errorf("%d versions on record, %v", n, err)
	}
}

func TestShopParts(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	p := func(name string) store.ShopPart {
		return store.ShopPart{Kind: "axle", Maker: "Varn", Name: name, Part: json.RawMessage("{}")}
	}
	err := st.AddShopParts(ctx, []store.ShopPart{p("a"), p("b"), p("a")})
	var taken *store.TakenError
	if !errors.As(err, &taken) || taken.Index != 2 {
		t.Errorf("twice the same: %v", err)
	}
	if list, err := st.ShopParts(ctx, ""); err != nil || len(list) != 0 {
		t.Errorf("half of them stayed: %v %v", list, err)
	}
	if err := st.AddShopParts(ctx, []store.ShopPart{p("b"), p("a")}); err != nil {
		t.Fatal(err)
	}
	list, err := st.ShopParts(ctx, "axle")
	if err != nil || len(list) != 2 || list[0].Name != "a" {
		t.Errorf("%+v %v", list, err)
	}
	if err := errors.Join(st.RemoveShopPart(ctx, list[0].ID), nil); err != nil {
		t.Error(err)
	}
	if err := st.RemoveShopPart(ctx, list[0].ID); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("removed twice: %v", err)
	}
}

// What stands with a ratio of its readings is what counting them says, whatever was
// written: taken, voided, others fitted, taken in with a document.
func TestTalliesAreWhatCountingSays(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	same := func(after string) {
		t.Helper()
		const counting = `SELECT COUNT(*) FROM stages s WHERE
			s.taken <> (SELECT COUNT(*) FROM readings r WHERE r.stage_id = s.id) OR
			s.newest <> (SELECT COALESCE(MAX(r.id), 0) FROM readings r WHERE r.stage_id = s.id) OR
			s.struck <> (SELECT COUNT(*) FROM readings r JOIN strikes x ON x.reading_id = r.id WHERE r.stage_id = s.id) OR
			s.standing <> (SELECT COUNT(*) FROM readings r LEFT JOIN strikes x ON x.reading_id = r.id
				WHERE r.stage_id = s.id AND x.reading_id IS NULL AND r.fitting <=> s.since)`
		var wrong, taken int
		if err := st.DB.QueryRowContext(ctx, counting).Scan(&wrong); err != nil {
			t.Fatal(err)
		}
		if err := st.DB.QueryRowContext(ctx, "SELECT SUM(taken) FROM stages").Scan(&taken); err != nil {
			t.Fatal(err)
		}
		if wrong > 0 || taken == 0 {
			t.Errorf("after %s: %d stages are counted wrong, %d readings in all", after, wrong, taken)
		}
	}
	line := testkit.Chain(t, 3)
	id, err := st.AddUnit(ctx, store.Unit{Name: "Tern", Kind: "van"}, line, "Oda")
	if err != nil {
		t.Fatal(err)
	}
	u, err := st.Unit(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	rng := rand.New(rand.NewPCG(3, 9))
	for range 40 {
		v, err := st.Stage(ctx, u.Stages[rng.IntN(len(u.Stages))].ID)
		if err != nil {
			t.Fatal(err)
		}
		switch rng.IntN(4) {
		case 0, 1:
			if err := st.AddReadings(ctx, v, []store.Reading{reading("4.10"), reading("3.73")}, 200); err != nil {
				t.Fatal(err)
			}
			same("readings")
		case 2:
			rows, err := st.Readings(ctx, v.ID)
			if err != nil {
				t.Fatal(err)
			}
			for _, r := range rows {
				if r.Struck == nil {
					if err := st.Strike(ctx, v, r.ID, store.Strike{By: "Ivar", Reason: "wrong"}, "x"); err != nil {
						t.Fatal(err)
					}
					same("a voided one")
					break
				}
			}
		case 3:
			d, err := st.Driveline(ctx, id)
			if err != nil {
				t.Fatal(err)
			}
			d.UnitID = id
			err = st.Fit(ctx, store.Fitting{UnitID: id, Part: v.Part, What: "gears_swapped",
				Former: json.RawMessage(`{"id":"` + v.Part + `","kind":"gear_pair"}`), By: "Oda"}, d)
			if err != nil {
				t.Fatal(err)
			}
			same("others fitted")
		}
	}
	if _, err := st.DB.ExecContext(ctx, "UPDATE stages SET taken = 99, standing = 99, newest = 0, struck = 5"); err != nil {
		t.Fatal(err)
	}
	if err := st.Tally(ctx); err != nil {
		t.Fatal(err)
	}
	same("counting anew")
}
