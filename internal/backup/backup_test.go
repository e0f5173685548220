package backup_test

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"regexp"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"zorvel/internal/backup"
	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

func TestMain(m *testing.M) { testkit.Main(m) }

var someDate = regexp.MustCompile(`"[0-9]{4}-[0-9]{2}-[0-9]{2} `)

func quiet(string, int64, int64) {}

func empty(t *testing.T) *store.Store {
	t.Helper()
	st, err := store.Open(t.Context(), testkit.DSN(t))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = st.Close() })
	return st
}

// everything is every row of every table, as text, but of those that are left out.
func everything(t *testing.T, st *store.Store) map[string][]string {
	t.Helper()
	names, err := st.DB.Query("SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE()")
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = names.Close() }()
	out := map[string][]string{}
	for names.Next() {
		var table string
		if err := names.Scan(&table); err != nil {
			t.Fatal(err)
		}
		if slices.Contains(backup.LeftOut, table) {
			continue
		}
		rows, err := st.DB.Query("SELECT * FROM `" + table + "`")
		if err != nil {
			t.Fatal(err)
		}
		cols, err := rows.Columns()
		if err != nil {
			t.Fatal(err)
		}
		out[table] = []string{strings.Join(cols, ",")}
		for rows.Next() {
			row, at := make([]any, len(cols)), make([]any, len(cols))
			for i := range row {
				at[i] = &row[i]
			}
			if err := rows.Scan(at...); err != nil {
				t.Fatal(err)
			}
			line := ""
			for i, v := range row {
				// How far what is made anew was made.
				if table == "units" && slices.Contains([]string{"found_rev", "found_lists", "set_aside", "stale"}, cols[i]) {
					continue
				}
				if b, ok := v.([]byte); ok {
					v = string(b)
				}
				line += fmt.Sprintf("|%v", v)
			}
			out[table] = append(out[table], line)
		}
		if err := rows.Err(); err != nil {
			t.Fatal(err)
		}
		slices.Sort(out[table])
		_ = rows.Close()
	}
	return out
}

func same(t *testing.T, a, b map[string][]string) {
	t.Helper()
	if len(a) != len(b) || len(a) < 20 {
		t.Errorf("%d tables and %d", len(a), len(b))
	}
	for table, rows := range a {
		if !slices.Equal(rows, b[table]) {
			t.Errorf("%s: %d rows, %d after", table, len(rows), len(b[table]))
		}
	}
}

// made is a backup of a shop with everything in it.
func made(t *testing.T) (*store.Store, []byte) {
	t.Helper()
	_, st := testkit.Server(t, true)
	var b bytes.Buffer
	if _, err := backup.Write(t.Context(), st, &b, quiet); err != nil {
		t.Fatal(err)
	}
	return st, b.Bytes()
}

func restore(t *testing.T, st *store.Store, data []byte) (*backup.Manifest, error) {
	t.Helper()
	return backup.Read(t.Context(), st, bytes.NewReader(data), int64(len(data)), quiet)
}

func TestRestoredEqualsTheOriginal(t *testing.T) {
	st, data := made(t)
	back := empty(t)
	told := map[string]int64{}
	m, err := backup.Read(t.Context(), back, bytes.NewReader(data), int64(len(data)), func(table string, done, _ int64) { told[table] = done })
	if err != nil {
		t.Fatal(err)
	}
	before, after := everything(t, st), everything(t, back)
	same(t, before, after)
	for _, x := range m.Tables {
		if told[x.Name] != x.Rows {
			t.Errorf("%s: told %d of %d", x.Name, told[x.Name], x.Rows)
		}
		if int(x.Rows) != len(before[x.Name])-1 {
			t.Errorf("%s: says %d rows, has %d", x.Name, x.Rows, len(before[x.Name])-1)
		}
	}
	for _, table := range []string{"photo_blobs", "readings", "jobs", "decisions", "people", "card_entries"} {
		if len(before[table]) < 2 {
			t.Errorf("the example has no %s", table)
		}
	}
	// What is put in from here on gets numbers of its own.
	if _, err := back.AddUnit(t.Context(), store.Unit{Name: "After", Kind: "van"}, testkit.Chain(t, 1), "Oda"); err != nil {
		t.Error(err)
	}
	// A backup of what was restored is the same backup.
	var again bytes.Buffer
	if _, err := backup.Write(t.Context(), st, &again, quiet); err != nil {
		t.Fatal(err)
	}
	a, b := testkit.Unzipped(t, data), testkit.Unzipped(t, again.Bytes())
	for name, text := range a {
		if name != "zorvel-backup.json" && b[name] != text {
			t.Errorf("%s differs the second time", name)
		}
	}
	for name := range a {
		for _, x := range backup.LeftOut {
			if strings.Contains(name, "/"+x+".") {
				t.Errorf("%s is in it", name)
			}
		}
	}
}

// Every reading has its line in the history: also in a backup that was made while
// many hands wrote.
func TestBackupWhilePeopleWrite(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	id, err := st.AddUnit(ctx, store.Unit{Name: "Busy", Kind: "truck"}, testkit.Chain(t, 4), "Oda")
	if err != nil {
		t.Fatal(err)
	}
	u, err := st.Unit(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	stop := make(chan struct{})
	var hands sync.WaitGroup
	for h := range 6 {
		hands.Go(func() {
			for n := 0; ; n++ {
				select {
				case <-stop:
					return
				default:
				}
				r := store.Reading{Method: "tag", Data: json.RawMessage(`{"method":"tag","text":"4.10"}`), By: "Oda", Text: "Tag says 4.10", Key: fmt.Sprintf("hand-%d-%d", h, n)}
				if err := st.AddReadings(ctx, u.Stages[h%len(u.Stages)], []store.Reading{r}, 10_000); err != nil {
					t.Error(err)
					return
				}
			}
		})
	}
	for range 3 {
		time.Sleep(150 * time.Millisecond)
		var b bytes.Buffer
		if _, err := backup.Write(ctx, st, &b, quiet); err != nil {
			t.Fatal(err)
		}
		back := empty(t)
		if _, err := restore(t, back, b.Bytes()); err != nil {
			t.Fatal(err)
		}
		var readings, told int
		if err := back.DB.QueryRow("SELECT (SELECT COUNT(*) FROM readings), (SELECT COUNT(*) FROM events WHERE what = 'reading')").Scan(&readings, &told); err != nil {
			t.Fatal(err)
		}
		if readings == 0 || readings != told {
			t.Errorf("%d readings, %d told", readings, told)
		}
	}
	close(stop)
	hands.Wait()
}

// A backup of an older schema is read into that schema, and brought up to date.
func TestOlderBackup(t *testing.T) {
	old := testkit.StoreAt(t, 12)
	ctx := t.Context()
	for _, q := range []string{
		"INSERT INTO units (id, name, kind, notes, created_at, changed_at) VALUES (7, 'Old Birk', 'truck', 'from before', '2025-01-02 03:04:05.678901', '2025-01-02 03:04:05.678901')",
		"INSERT INTO drivelines (unit_id, version, document, states, by_name, at) VALUES (7, 1, '{\"parts\":[]}', '[]', 'Oda', '2025-01-02 03:04:05')",
	} {
		if _, err := old.DB.ExecContext(ctx, q); err != nil {
			t.Fatal(err)
		}
	}
	var b bytes.Buffer
	m, err := backup.Write(ctx, old, &b, quiet)
	if err != nil || m.Schema != 12 {
		t.Fatalf("%+v, %v", m, err)
	}
	back := empty(t)
	if _, err := restore(t, back, b.Bytes()); err != nil {
		t.Fatal(err)
	}
	u, err := back.Unit(ctx, 7)
	if err != nil || u.Name != "Old Birk" || !u.ChangedAt.Equal(time.Date(2025, 1, 2, 3, 4, 5, 678901000, time.UTC)) {
		t.Errorf("%+v, %v", u, err)
	}
	now, err := back.Schema(ctx)
	newest, err2 := testkit.Store(t).Schema(ctx)
	if err != nil || err2 != nil || now != newest {
		t.Errorf("schema %d, newest %d, %v %v", now, newest, err, err2)
	}
}

// What isn't whole, isn't a backup or was made up is refused, and the database stays
// empty.
func TestHostileBackups(t *testing.T) {
	_, data := made(t)
	whole := testkit.Unzipped(t, data)
	changed := func(change func(f map[string]string)) []byte {
		f := map[string]string{}
		for k, v := range whole {
			f[k] = v
		}
		change(f)
		return testkit.Zipped(t, f)
	}
	manifest := func(change func(m *backup.Manifest)) []byte {
		return changed(func(f map[string]string) {
			var m backup.Manifest
			if err := json.Unmarshal([]byte(f["zorvel-backup.json"]), &m); err != nil {
				t.Fatal(err)
			}
			change(&m)
			text, err := json.Marshal(m)
			if err != nil {
				t.Fatal(err)
			}
			f["zorvel-backup.json"] = string(text)
		})
	}
	table := func(m *backup.Manifest, name string) *backup.Table {
		return &m.Tables[slices.IndexFunc(m.Tables, func(t backup.Table) bool { return t.Name == name })]
	}
	firstLine := func(f map[string]string, name string) string {
		line, _, _ := strings.Cut(f["tables/"+name+".jsonl"], "\n")
		return line
	}
	back := empty(t)
	for name, x := range map[string][]byte{
		"nothing":          {},
		"no zip":           []byte("PK no zip"),
		"half":             data[:len(data)/2],
		"without its end":  data[:len(data)-30],
		"another zip":      testkit.Zipped(t, map[string]string{"readme.txt": "hello"}),
		"stands twice":     testkit.Zipped(t, whole, "tables/units.jsonl"),
		"another format":   manifest(func(m *backup.Manifest) { m.Format = "zorvel-backup-9" }),
		"no schema":        manifest(func(m *backup.Manifest) { m.Schema = 0 }),
		"of the future":    manifest(func(m *backup.Manifest) { m.Schema = 9999 }),
		"of another time":  manifest(func(m *backup.Manifest) { m.Schema = 3 }),
		"manifest broken":  changed(func(f map[string]string) { f["zorvel-backup.json"] = "{" }),
		"manifest endless": changed(func(f map[string]string) { f["zorvel-backup.json"] += strings.Repeat(" ", 2<<20) }),
		"a table missing":  changed(func(f map[string]string) { delete(f, "tables/jobs.jsonl") }),
		"a file too many":  changed(func(f map[string]string) { f["../../etc/passwd"] = "root" }),
		"a table too many": manifest(func(m *backup.Manifest) { m.Tables = append(m.Tables, backup.Table{Name: "mysql.user"}) }),
		"a row lost":       manifest(func(m *backup.Manifest) { table(m, "units").Rows++ }),
		"a row more":       manifest(func(m *backup.Manifest) { table(m, "units").Rows-- }),
		"another column":   manifest(func(m *backup.Manifest) { table(m, "units").Columns[1] = "name) VALUES (1); DROP TABLE units; --" }),
		"no JSON":          changed(func(f map[string]string) { f["tables/units.jsonl"] = "[" + f["tables/units.jsonl"] }),
		"a value too many": changed(func(f map[string]string) {
			l := firstLine(f, "units")
			f["tables/units.jsonl"] = strings.Replace(f["tables/units.jsonl"], l, `["1",`+l[1:], 1)
		}),
		"no value": changed(func(f map[string]string) {
			f["tables/units.jsonl"] = strings.Replace(f["tables/units.jsonl"], `["1"`, `[[1]`, 1)
		}),
		"no base64": changed(func(f map[string]string) {
			f["tables/photo_blobs.jsonl"] = strings.Replace(f["tables/photo_blobs.jsonl"], `{"base64":"`, `{"base64":"§`, 1)
		}),
		"another's rows": changed(func(f map[string]string) {
			f["tables/stages.jsonl"] = strings.Replace(f["tables/stages.jsonl"], `,"1",`, `,"99999",`, 1)
		}),
		"a number twice": changed(func(f map[string]string) {
			f["tables/units.jsonl"] = strings.Replace(f["tables/units.jsonl"], `["2"`, `["1"`, 1)
		}),
		"no date": changed(func(f map[string]string) {
			f["tables/units.jsonl"] = someDate.ReplaceAllString(f["tables/units.jsonl"], `"some day `)
		}),
		"an endless line": changed(func(f map[string]string) { f["tables/units.jsonl"] = `["` + strings.Repeat("0", 97<<20) }),
	} {
		if _, err := restore(t, back, x); err == nil {
			t.Errorf("%s: taken", name)
		} else if strings.Contains(name, "manifest") && errors.Is(err, backup.ErrNotEmpty) {
			t.Errorf("%s: %v", name, err)
		}
		var tables int
		if err := back.DB.QueryRow("SELECT COUNT(*) FROM information_schema.tables WHERE table_schema = DATABASE() AND " +
			"table_name <> 'leases'").Scan(&tables); err != nil {
			t.Fatal(err)
		}
		if tables != 0 {
			t.Fatalf("%s: %d tables are left", name, tables)
		}
	}
	// The whole one still goes in, once; a second time the database isn't empty.
	if _, err := restore(t, back, data); err != nil {
		t.Fatal(err)
	}
	if _, err := restore(t, back, data); !errors.Is(err, backup.ErrNotEmpty) {
		t.Errorf("into one that has something: %v", err)
	}
	var units int
	if err := back.DB.QueryRow("SELECT COUNT(*) FROM units").Scan(&units); err != nil || units == 0 {
		t.Errorf("%d units left, %v", units, err)
	}
	ctx, cancel := context.WithCancel(t.Context())
	cancel()
	if _, err := backup.Write(ctx, back, io.Discard, quiet); err == nil {
		t.Error("written though it was called off")
	}
}

// A restore that was cut off leaves a database that says so: no server starts on it,
// and the next restore begins from the start. One that is under way keeps others
// out.
func TestRestoreThatWasCutOff(t *testing.T) {
	original, data := made(t)
	want := everything(t, original)
	for _, statements := range [][]string{
		{"CREATE TABLE " + store.UnfinishedTable + " (begun_at DATETIME NOT NULL)"},
		{"CREATE TABLE " + store.UnfinishedTable + " (begun_at DATETIME NOT NULL)", "CREATE TABLE units (id INT)", "CREATE TABLE goose_db_version (id INT)"},
	} {
		st := empty(t)
		for _, q := range statements {
			if _, err := st.DB.ExecContext(t.Context(), q); err != nil {
				t.Fatal(err)
			}
		}
		if err := st.Migrate(t.Context()); !errors.Is(err, store.ErrUnfinished) {
			t.Errorf("a server would start on it: %v", err)
		}
		if _, err := restore(t, st, data); err != nil {
			t.Fatal(err)
		}
		if err := st.Migrate(t.Context()); err != nil {
			t.Error(err)
		}
		same(t, want, everything(t, st))
	}

	// Ended in the middle, as with a kill: nothing tidies up behind it.
	st := empty(t)
	begun := make(chan struct{})
	hold := make(chan struct{})
	var once sync.Once
	done := make(chan error, 1)
	go func() {
		_, err := backup.Read(t.Context(), st, bytes.NewReader(data), int64(len(data)), func(string, int64, int64) {
			once.Do(func() { close(begun); <-hold })
		})
		done <- err
	}()
	<-begun
	if err := st.Migrate(t.Context()); !errors.Is(err, store.ErrUnfinished) {
		t.Errorf("a server would start beside it: %v", err)
	}
	if _, err := restore(t, st, data); err == nil || !strings.Contains(err.Error(), "under way") {
		t.Errorf("two at once: %v", err)
	}
	close(hold)
	if err := <-done; err != nil {
		t.Error(err)
	}
	same(t, want, everything(t, st))
	if _, err := restore(t, st, data); !errors.Is(err, backup.ErrNotEmpty) {
		t.Errorf("over what is there: %v", err)
	}
}
