package main

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"net/http"
	"net/http/cookiejar"
	"slices"
	"strings"
	"sync"
	"time"

	_ "github.com/go-sql-driver/mysql"

	"zorvel/internal/cluster"
)

// trial is how a cluster is tried.
type trial struct {
	clients, rounds, races int
	each                   time.Duration // that something lasts
	only                   []string      // of what happens; all of it where it is empty
	// busy is a machine that does other things too: the proxy then takes servers for dead
	// that are only slow, and ends what is sent to them.
	busy bool
}

// run tries a cluster: it is started empty, with both servers at once; many
// are the first owner at once; then many write while nodes and servers are killed,
// frozen and cut off one after another. What was acknowledged is sought at every node.
func (tr trial) run(ctx context.Context, bin, dir string) error {
	c, err := cluster.Prepare(cluster.Options{Dir: dir, Zorvel: bin})
	if err != nil {
		return err
	}
	defer func() { _ = c.Stop() }()
	began := time.Now()
	if err := c.Start(ctx); err != nil {
		return err
	}
	if err := c.Serve(ctx); err != nil {
		return err
	}
	fmt.Printf("three nodes, two servers on a new database: ready after %v\n", time.Since(began).Round(time.Second/10))
	races, twice, err := firstOwners(ctx, c, tr.races)
	if err != nil {
		return err
	}
	w := &writers{trial: tr, c: c, kept: map[kind]map[string]bool{}, failed: map[string]int{}}
	if err := w.prepare(tr.clients); err != nil {
		return err
	}
	if err := w.under(ctx); err != nil {
		return err
	}
	lost, double, err := w.seek(ctx)
	if err != nil {
		return err
	}
	acknowledged := 0
	for k, keys := range w.kept {
		fmt.Printf("%-52s %10d\n", string(k)+" acknowledged", len(keys))
		acknowledged += len(keys)
	}
	fmt.Printf("%-52s %10d\n%-52s %10d\n", "  not found at some node", lost, "  found twice", double)
	fmt.Printf("%-52s %10d\n%-52s %10d\n", "races for the first owner", races, "  with two of them", twice)
	for _, f := range slices.Sorted(maps.Keys(w.outage)) {
		fmt.Printf("%-52s %10v\n", "longest that a write took: "+f, w.outage[f].Round(10*time.Millisecond))
	}
	fmt.Printf("%-52s %10d\n%-52s %10d\n", "answered 503, try again", w.later, "connections that ended with their server", w.broke)
	for what, n := range w.failed {
		fmt.Printf("%-52s %10d\n", "  "+what, n)
	}
	if lost+double+twice+len(w.failed) > 0 || acknowledged == 0 {
		return errors.New("it does not hold")
	}
	return nil
}

// client is someone at an address, with a session of their own.
func client(address string) *instance {
	jar, _ := cookiejar.New(nil)
	return &instance{nil, "http://" + address, &http.Client{Jar: jar, Timeout: 2 * time.Minute}}
}

// firstOwners has twenty at two servers be the first owner at once, again and again.
func firstOwners(ctx context.Context, c *cluster.Cluster, races int) (tried, twice int, err error) {
	db, err := sql.Open("mysql", c.DSN(c.Nodes[0].Address()))
	if err != nil {
		return 0, 0, err
	}
	defer func() { _ = db.Close() }()
	for race := range races {
		var wg sync.WaitGroup
		for i := range 20 {
			wg.Go(func() {
				_, _, _ = client(c.Servers[i%len(c.Servers)].Address).do("POST", "/owner",
					fmt.Sprintf(`{"name":"Owner","sign_in":"owner%d-%d","password":"hits the nail always"}`, race, i))
			})
		}
		wg.Wait()
		var n int
		if err := db.QueryRowContext(ctx, "SELECT COUNT(*) FROM people").Scan(&n); err != nil {
			return tried, twice, err
		}
		if tried++; n != 1 {
			fmt.Printf("race %d: %d owners\n", race, n)
			twice++
		}
		for _, q := range []string{"DELETE FROM audit", "DELETE FROM sessions", "DELETE FROM people"} {
			if _, err := db.ExecContext(ctx, q); err != nil {
				return tried, twice, err
			}
		}
	}
	return tried, twice, nil
}

// kind of what is written, by the words that are searched for.
type kind string

const (
	readings  kind = "readings"
	entries   kind = "job entries"
	photos    kind = "photos"
	decisions kind = "decisions"
)

// sought are the statements that list what a node has, by key.
var sought = map[kind]string{
	readings:  "SELECT note, COUNT(*) FROM readings WHERE note LIKE 'h-%' GROUP BY note",
	entries:   "SELECT text, COUNT(*) FROM work_entries WHERE text LIKE 'h-%' GROUP BY text",
	photos:    "SELECT title, COUNT(*) FROM photos WHERE title LIKE 'h-%' GROUP BY title",
	decisions: "SELECT note, COUNT(*) FROM decisions WHERE note LIKE 'h-%' GROUP BY note",
}

// writers are many clients at the cluster's one address, and what they were told.
type writers struct {
	trial
	c      *cluster.Cluster
	units  []int
	jobs   []int
	stages []int

	mu     sync.Mutex
	now    string // the fault that is on
	kept   map[kind]map[string]bool
	outage map[string]time.Duration
	later  int
	broke  int // connections that ended with the server that they were at
	failed map[string]int
}

// prepare makes what is written to: a unit with a job for each client.
func (w *writers) prepare(clients int) error {
	in := client(w.c.Address)
	status, b, err := in.do("POST", "/owner", "{\"name\":\"Hammer\","+owner+"}")
	if err != nil || status != 201 {
		return fmt.Errorf("the owner: %d %s %w", status, b, err)
	}
	w.outage = map[string]time.Duration{}
	for n := range clients {
		parts := `{"id":"pair_0","kind":"gear_pair"}`
		for s := 1; s < 60; s++ {
			parts += fmt.Sprintf(`,{"id":"pair_%d","kind":"gear_pair","from":"pair_%d"}`, s, s-1)
		}
		status, b, err := in.do("POST", "/units", fmt.Sprintf(`{"name":"Hammered %d","kind":"truck",`+
			`"driveline":{"format":"zorvel-driveline-1","lies":"bench","parts":[%s]}}`, n, parts))
		if err != nil || status != 201 {
			return fmt.Errorf("a unit: %d %s %w", status, b, err)
		}
		var unit struct {
			ID     int
			Stages []struct{ ID int }
		}
		if err := json.Unmarshal(b, &unit); err != nil {
			return err
		}
		w.units = append(w.units, unit.ID)
		for _, s := range unit.Stages {
			w.stages = append(w.stages, s.ID)
		}
		job, err := in.made("POST", fmt.Sprintf("/units/%d/jobs", unit.ID), fmt.Sprintf(`{"key":"hammered-job-%d","complaint":"hammered"}`, n))
		if err != nil {
			return err
		}
		w.jobs = append(w.jobs, job)
	}
	return nil
}

// fault is something that happens to a cluster, and is over again.
type fault struct {
	name     string
	do, undo func(context.Context) error
}

func (w *writers) faults() []fault {
	c := w.c
	nothing := func(context.Context) error { return nil }
	did := func(f func()) func(context.Context) error {
		return func(context.Context) error { f(); return nil }
	}
	list := []fault{{"nothing happens", nothing, nothing}}
	for i, n := range c.Nodes {
		list = append(list,
			fault{fmt.Sprintf("node %d killed", i+1), did(n.Kill), n.Start},
			fault{fmt.Sprintf("node %d frozen", i+1), did(n.Freeze), did(n.Thaw)},
			fault{fmt.Sprintf("node %d cut off", i+1), n.Cut, n.Heal})
	}
	for i, s := range c.Servers {
		back := func(ctx context.Context) error { return errors.Join(s.Start(), s.Await(ctx)) }
		list = append(list,
			fault{fmt.Sprintf("server %d killed", i+1), did(s.Kill), back},
			fault{fmt.Sprintf("server %d frozen", i+1), did(s.Freeze), did(s.Thaw)})
	}
	return append(list, fault{"node 1 and server 2 killed", did(func() { c.Nodes[0].Kill(); c.Servers[1].Kill() }),
		func(ctx context.Context) error {
			return errors.Join(c.Nodes[0].Start(ctx), c.Servers[1].Start(), c.Servers[1].Await(ctx))
		}})
}

// under has everyone write while one thing after another happens.
func (w *writers) under(ctx context.Context) error {
	writing, stop := context.WithCancel(ctx)
	var wg sync.WaitGroup
	for hand := range w.clients {
		wg.Go(func() { w.write(writing, hand) })
	}
	err := func() error {
		for range w.rounds {
			for _, f := range w.faults() {
				if len(w.only) > 0 && !slices.Contains(w.only, f.name) {
					continue
				}
				w.set(f.name)
				if err := f.do(ctx); err != nil {
					return fmt.Errorf("%s: %w", f.name, err)
				}
				time.Sleep(w.each)
				if err := f.undo(ctx); err != nil {
					return fmt.Errorf("%s, and back: %w", f.name, err)
				}
				time.Sleep(w.each / 2)
				fmt.Printf("%s: the longest write took %v\n", f.name, w.longest(f.name).Round(10*time.Millisecond))
			}
		}
		return nil
	}()
	stop()
	wg.Wait()
	return err
}

func (w *writers) set(name string) {
	w.mu.Lock()
	defer w.mu.Unlock()
	w.now = name
}

func (w *writers) longest(name string) time.Duration {
	w.mu.Lock()
	defer w.mu.Unlock()
	return w.outage[name]
}

// write is one hand: it sends one thing after another, each until it is acknowledged.
func (w *writers) write(ctx context.Context, hand int) {
	in := client(w.c.Address)
	for status := 0; status != 200 && ctx.Err() == nil; {
		status, _, _ = in.do("POST", "/session", "{"+owner+"}")
	}
	of := []kind{readings, readings, entries, decisions, readings, photos, readings, entries}[hand%8]
	for n := 0; ctx.Err() == nil; n++ {
		key := fmt.Sprintf("h-%04d-%06d", hand, n)
		path, body := w.body(of, hand, n, key)
		began := time.Now()
		if w.send(ctx, in, of, path, body) {
			w.mu.Lock()
			if w.kept[of] == nil {
				w.kept[of] = map[string]bool{}
			}
			w.kept[of][key] = true
			w.outage[w.now] = max(w.outage[w.now], time.Since(began))
			w.mu.Unlock()
		}
		pause := 5 * time.Millisecond
		if of == photos || of == decisions { // of which a unit holds a bounded number
			pause = 400 * time.Millisecond
		}
		time.Sleep(pause)
	}
}

// send sends something until it is acknowledged; a decision, which has no key, once.
func (w *writers) send(ctx context.Context, in *instance, of kind, path, body string) bool {
	for ctx.Err() == nil {
		status, b, err := in.do("POST", path, body)
		switch {
		case err == nil && (status == 201 || status == 200):
			return true
		case err == nil && status == 422: // it is full
			return false
		}
		w.mu.Lock()
		switch {
		case err != nil && (w.busy || strings.Contains(w.now, "server")): // with their server
			w.broke++
		case err != nil:
			w.failed["connections that broke"]++
			fmt.Println(err)
		case status == 503:
			w.later++
		default:
			w.failed[fmt.Sprintf("answered %d", status)]++
			fmt.Printf("%s %s: %d %.300s\n", of, path, status, b)
		}
		w.mu.Unlock()
		if of == decisions {
			return false
		}
		time.Sleep(50 * time.Millisecond)
	}
	return false
}

func (w *writers) body(of kind, hand, n int, key string) (path, body string) {
	switch of {
	case readings:
		return fmt.Sprintf("/stages/%d/readings", w.stages[(hand*60+n)%len(w.stages)]),
			fmt.Sprintf(`{"readings":[{"key":%q,"note":%q,"reading":{"method":"tag","text":"4.10"}}]}`, key, key)
	case entries:
		return fmt.Sprintf("/jobs/%d/entries", w.jobs[hand]), fmt.Sprintf(`{"key":%q,"kind":"note","text":%q}`, key, key)
	case photos:
		return fmt.Sprintf("/units/%d/photos", w.units[hand]), fmt.Sprintf(`{"key":%q,"title":%q,"image":"%s"}`, key, key, picture(uint8(n)))
	}
	return fmt.Sprintf("/units/%d/decisions", w.units[hand]),
		fmt.Sprintf(`{"kind":"fits","note":%q,"fits":%s}`, key, gearAndSeat)
}

// seek looks at every node for what was acknowledged.
func (w *writers) seek(ctx context.Context) (lost, double int, err error) {
	for _, n := range w.c.Nodes {
		db, err := sql.Open("mysql", w.c.DSN(n.Address()))
		if err != nil {
			return 0, 0, err
		}
		for of, query := range sought {
			there, err := counted(ctx, db, query)
			if err != nil {
				return 0, 0, errors.Join(err, db.Close())
			}
			for key := range w.kept[of] {
				if there[key] == 0 {
					fmt.Printf("%s: %s %s is not there\n", n.Name, of, key)
					lost++
				}
			}
			for key, times := range there {
				if times > 1 {
					fmt.Printf("%s: %s %s is there %d times\n", n.Name, of, key, times)
					double++
				}
			}
		}
		if err := db.Close(); err != nil {
			return lost, double, err
		}
	}
	return lost, double, nil
}

func counted(ctx context.Context, db *sql.DB, query string) (map[string]int, error) {
	rows, err := db.QueryContext(ctx, query)
	if err != nil {
		return nil, err
	}
	defer func() { _ = rows.Close() }()
	out := map[string]int{}
	for rows.Next() {
		var key string
		var n int
		if err := rows.Scan(&key, &n); err != nil {
			return nil, err
		}
		out[key] = n
	}
	return out, rows.Err()
}

// gearAndSeat is what is decided, again and again.
const gearAndSeat = `{"gear":{"teeth":34,"module_mm":3,"pressure_deg":20,"helix_deg":15,"hand":"left","face_mm":20,"offset_mm":8,"width_mm":30,"splines":24,"spline_mm":32,"bolts":8,"circle_mm":120,"worn":"new"},
	"seat":{"mate_teeth":26,"mate_module_mm":3,"mate_pressure_deg":20,"mate_helix_deg":15,"mate_hand":"right","mate_face_mm":20,"mate_at_mm":8,"mate_worn":"used","center_mm":93.17,"room_mm":31,"splines":24,"spline_mm":32,"bolts":8,"circle_mm":120,"worn":"used"}}`
