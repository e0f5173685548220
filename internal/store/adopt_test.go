package store_test

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"zorvel/core/driveline"
	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

// Units of a shop that had lines of stages keep every reading, and each hangs
// on a part of the unit's driveline.
func TestLinesBecomeDrivelines(t *testing.T) {
	st := testkit.StoreAt(t, 6)
	ctx := t.Context()
	exec := func(q string, args ...any) {
		t.Helper()
		if _, err := st.DB.ExecContext(ctx, q, args...); err != nil {
			t.Fatalf("%s: %v", q, err)
		}
	}
	reading := 0
	unit := func(id int, name string, stages ...[3]string) {
		exec("INSERT INTO units (id, name, kind, created_at, changed_at) VALUES (?, ?, 'truck', '2025-01-01', '2025-02-03')", id, name)
		for i, s := range stages {
			exec("INSERT INTO stages (id, unit_id, ordinal, name, kind, position) VALUES (?, ?, ?, ?, ?, ?)", id*10+i, id, i, s[0], s[1], s[2])
			for range 2 {
				reading++
				exec("INSERT INTO readings (id, stage_id, method, data, note, by_name, at) VALUES (?, ?, 'tag', '{\"method\":\"tag\",\"text\":\"4.10\"}', ?, 'Oda', '2025-01-02')", reading, id*10+i, fmt.Sprint(name, " ", s[0]))
			}
		}
	}
	var tied driveline.Document
	for _, l := range driveline.Layouts() {
		if l.ID == "part_time" {
			tied = l.Document.Blank()
		}
	}
	for i := range tied.Parts {
		if tied.Parts[i].ID == "front" { // tied by number, against its name
			tied.Parts[i].Sources["ratio"] = driveline.Source{Kind: "measured", Stage: 11}
		}
	}
	drawn, err := json.Marshal(tied)
	if err != nil {
		t.Fatal(err)
	}
	unit(1, "Drawn", [3]string{"Transfer case, low", "transfer_case", "low"}, [3]string{"Axle by the crane", "ring_and_pinion", ""}, [3]string{"Rear axle", "ring_and_pinion", ""}, [3]string{"Winch", "gear_pair", ""})
	exec("INSERT INTO drivelines (unit_id, version, document, states, by_name, at) VALUES (1, 3, ?, '[{\"name\":\"low\",\"state\":{}}]', 'Oda', '2025-01-02')", string(drawn))
	unit(2, "A line only", [3]string{"Gearbox, 4th gear", "gearbox", "4"}, [3]string{"Rear axle", "two_stage", ""}, [3]string{"Front axle", "ring_and_pinion", ""})
	unit(3, "Nothing yet")
	exec("INSERT INTO strikes (reading_id, by_name, at, reason) VALUES (1, 'Ivar', '2025-01-03', 'wrong truck')")

	if err := st.Migrate(ctx); err != nil {
		t.Fatal(err)
	}
	if err := st.Migrate(ctx); err != nil {
		t.Fatalf("once more: %v", err)
	}
	found := 0
	for id, want := range map[int64]string{
		1: "case low, rear ratio, front ratio, gear_pair ratio",
		2: "gearbox 4, axle ratio, axle_2 ratio",
		3: "",
	} {
		u, err := st.Unit(ctx, id)
		if err != nil {
			t.Fatal(err)
		}
		if !strings.HasPrefix(u.ChangedAt.Format("2006-01-02"), "2025-02-03") {
			t.Errorf("%s is dated %s", u.Name, u.ChangedAt)
		}
		d, err := st.Driveline(ctx, id)
		if err != nil {
			t.Fatalf("%s: %v", u.Name, err)
		}
		doc, err := driveline.Parse(d.Document)
		if err != nil {
			t.Fatalf("%s: %v", u.Name, err)
		}
		if strings.Contains(string(d.Document), `"stage"`) {
			t.Errorf("%s still names stages: %s", u.Name, d.Document)
		}
		var got []string
		for _, v := range u.Stages {
			if !v.Present || doc.Part(v.Part) == nil {
				t.Errorf("%s: %+v hangs on nothing", u.Name, v)
			}
			rows, err := st.Readings(ctx, v.ID)
			if err != nil || v.Taken != len(rows) {
				t.Fatal(err, v)
			}
			found += len(rows)
			if len(rows) > 0 {
				got = append(got, v.Part+" "+v.Ratio)
			}
		}
		if strings.Join(got, ", ") != want {
			t.Errorf("%s: readings hang on %v, want %s", u.Name, got, want)
		}
	}
	if found != reading {
		t.Errorf("%d of %d readings are found", found, reading)
	}
	d, _ := st.Driveline(ctx, 1)
	if d.Version != 4 || !strings.Contains(string(d.States), "low") {
		t.Errorf("version %d with the states %s", d.Version, d.States)
	}
	// What a stage was called in the line is told.
	events, err := st.History(ctx, 1, 0)
	if err != nil || !strings.Contains(fmt.Sprint(events), "was called Axle by the crane in the line") {
		t.Errorf("%+v %v", events, err)
	}
	stage, _ := st.Stage(ctx, 11)
	if stage.Part != "front" {
		t.Errorf("the stage that was tied by number hangs on %s", stage.Part)
	}
	// And it goes on from there.
	if err := st.AddReadings(context.WithoutCancel(ctx), stage, []store.Reading{{Method: "tag", Data: json.RawMessage(`{}`), By: "Oda"}}, 200); err != nil {
		t.Error(err)
	}
}
