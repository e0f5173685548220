package main

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"sync"
	"sync/atomic"
	"time"

	"zorvel/internal/localdb"
)

// pair is two servers on one database, one of whose clocks is ahead.
type pair struct {
	bin, dsn string
	both     [2]*instance
}

var serving = regexp.MustCompile(`address=(127\.0\.0\.1:\d+)`)

const owner = `"sign_in":"hammer","password":"hits the nail always"`

// serve starts a server on the database, with its clock so far ahead.
func (p *pair) serve(i int, ahead string) error {
	out := &buffer{}
	cmd := exec.Command(p.bin, "serve", "--dsn", p.dsn, "--addr", "127.0.0.1:0", "--clock-ahead", ahead, "--anonymous-rate", "0")
	cmd.Stdout, cmd.Stderr = out, out
	if err := cmd.Start(); err != nil {
		return err
	}
	gone := make(chan struct{})
	go func() { _ = cmd.Wait(); close(gone) }()
	for range 1200 {
		if m := serving.FindStringSubmatch(out.String()); m != nil {
			jar, err := cookiejar.New(nil)
			if err != nil {
				return err
			}
			p.both[i] = &instance{cmd, "http://" + m[1], &http.Client{Jar: jar, Timeout: 60 * time.Second}}
			return p.enter(i)
		}
		select {
		case <-gone:
			return fmt.Errorf("the server ended:\n%s", out)
		case <-time.After(25 * time.Millisecond):
		}
	}
	return fmt.Errorf("the server never got ready:\n%s", out)
}

// enter signs in, as the first owner where there is none.
func (p *pair) enter(i int) error {
	status, b, err := p.both[i].do("POST", "/session", "{"+owner+"}")
	if err == nil && status == 401 {
		status, b, err = p.both[i].do("POST", "/owner", `{"name":"Hammer",`+owner+"}")
	}
	if err == nil && status >= 300 {
		err = fmt.Errorf("signing in: %d %s", status, b)
	}
	return err
}

// again kills both servers and starts them, a minute apart.
func (p *pair) again() error {
	for _, in := range p.both {
		in.kill()
	}
	return errors.Join(p.serve(0, "0s"), p.serve(1, "1m"))
}

// pairs tries what only several servers, or servers that are killed, show.
func pairs(bin string) ([]line, error) {
	dir, err := os.MkdirTemp("", "hammer-db-")
	if err != nil {
		return nil, err
	}
	defer func() { _ = os.RemoveAll(dir) }()
	db, err := localdb.Start(context.Background(), dir, true)
	if err != nil {
		return nil, err
	}
	defer func() { _ = db.Stop() }()
	p := &pair{bin: bin}
	if p.dsn, err = db.Create(context.Background(), "zorvel_hammer"); err != nil {
		return nil, err
	}
	if err := p.again(); err != nil {
		return nil, err
	}
	defer func() {
		for _, in := range p.both {
			in.kill()
		}
	}()
	var lines []line
	for _, attack := range []func() (line, error){p.cold, p.clocks, p.killed, func() (line, error) { return p.restored(db, dir) }} {
		l, err := attack()
		if err != nil {
			return lines, err
		}
		fmt.Println(l.what)
		lines = append(lines, l)
	}
	return lines, nil
}

// cold has many read at once from servers that have just started.
func (p *pair) cold() (line, error) {
	l := line{what: "reads of two servers that just started", wrong: "that failed"}
	for n := range 60 {
		unit, err := p.both[0].made("POST", "/units", fmt.Sprintf(`{"name":"Cold %d","kind":"truck","layout":"part_time"}`, n))
		if err != nil {
			return l, err
		}
		var u struct{ Stages []struct{ ID int } }
		_, b, err := p.both[0].do("GET", fmt.Sprintf("/units/%d", unit), "")
		if err := errors.Join(err, json.Unmarshal(b, &u)); err != nil {
			return l, err
		}
		for _, s := range u.Stages {
			if _, _, err := p.both[0].do("POST", fmt.Sprintf("/stages/%d/readings", s.ID), `{"readings":[{"reading":{"method":"tag","text":"4.10"}}]}`); err != nil {
				return l, err
			}
		}
	}
	var broken atomic.Int64
	for range 3 {
		// Another program version made what is kept: none of it counts.
		if err := p.again(); err != nil {
			return l, err
		}
		if status, b, err := p.both[0].do("POST", "/catalog/gear_sets", fmt.Sprintf(`{"cells":{"family":"Cold %d","teeth":"41 x 10"}}`, l.tried)); err != nil || status >= 300 {
			return l, fmt.Errorf("%d %s %w", status, b, err)
		}
		var wg sync.WaitGroup
		for i := range 30 {
			l.tried++
			wg.Go(func() {
				path := []string{"/units", "/units?ratio=4.10", "/units/7", "/filters"}[i%4]
				if status, b, err := p.both[i%2].do("GET", path, ""); err != nil || status != 200 {
					fmt.Printf("%d %s %v\n", status, b, err)
					broken.Add(1)
				}
			})
		}
		wg.Wait()
	}
	l.broken = int(broken.Load())
	return l, nil
}

// clocks enters by turns at servers a minute apart, and seeks it at both.
func (p *pair) clocks() (line, error) {
	l := line{what: "entries at servers a minute apart", wrong: "not found"}
	unit, err := p.both[0].made("POST", "/units", `{"name":"Clocks","kind":"truck","layout":"rear_drive"}`)
	if err != nil {
		return l, err
	}
	job, err := p.both[1].made("POST", fmt.Sprintf("/units/%d/jobs", unit), `{"key":"clocks-job","complaint":"clocks"}`)
	if err != nil {
		return l, err
	}
	for n := range 20 {
		word := fmt.Sprint("clockword", string(rune('a'+n)))
		if status, b, err := p.both[n%2].do("POST", fmt.Sprintf("/jobs/%d/entries", job), fmt.Sprintf(`{"key":"clocks-%d","kind":"note","text":"%s"}`, n, word)); err != nil || status != 200 {
			return l, fmt.Errorf("%d %s %w", status, b, err)
		}
		for _, in := range p.both {
			l.tried++
			var list []struct{ ID int }
			_, b, err := in.do("GET", "/units?search="+url.QueryEscape(word), "")
			if err := errors.Join(err, json.Unmarshal(b, &list)); err != nil {
				return l, err
			}
			if len(list) != 1 {
				l.broken++
			}
		}
	}
	return l, nil
}

// acknowledged are photos, units and closed jobs that a server said it has.
type acknowledged struct {
	mu                    sync.Mutex
	photos, units, closed []int
}

func (a *acknowledged) add(to *[]int, id int) {
	a.mu.Lock()
	defer a.mu.Unlock()
	*to = append(*to, id)
}

// write has hands send photos, archives and closings to a unit for a while; what is
// under way when the server dies counts neither way.
func (a *acknowledged) write(in *instance, unit, archive, round string) {
	var wg sync.WaitGroup
	end := time.Now().Add(2 * time.Second)
	for hand := range 9 {
		wg.Go(func() {
			for n := 0; time.Now().Before(end); n++ {
				key := fmt.Sprintf("killed-%s-%d-%d", round, hand, n)
				switch hand % 3 {
				case 0:
					body := fmt.Sprintf(`{"key":"%s","image":"%s"}`, key, picture(uint8(n)))
					if id, err := in.made("POST", unit+"/photos", body); err == nil {
						a.add(&a.photos, id)
					}
				case 1:
					if id, err := in.made("POST", "/units/import-zip", archive); err == nil {
						a.add(&a.units, id)
					}
				case 2:
					id, err := in.made("POST", unit+"/jobs", fmt.Sprintf(`{"key":"%s","complaint":"x"}`, key))
					if err != nil {
						continue
					}
					status, _, err := in.do("POST", fmt.Sprintf("/jobs/%d/close", id), `{"hand_over":"done"}`)
					if err == nil && status == 200 {
						a.add(&a.closed, id)
					}
				}
			}
		})
	}
	time.Sleep(1500 * time.Millisecond)
	in.kill()
	wg.Wait()
}

// missing counts what isn't there, or is there by half.
func (a *acknowledged) missing(in *instance) (broken int, err error) {
	look := func(path string, whole func(b []byte) bool) {
		if status, b, err := in.do("GET", path, ""); err != nil || status != 200 || !whole(b) {
			fmt.Printf("%s: %d %v %.200s\n", path, status, err, b)
			broken++
		}
	}
	for _, id := range a.photos {
		look(fmt.Sprintf("/photos/%d/picture?size=full", id), func(b []byte) bool {
			return bytes.HasPrefix(b, []byte{0xff, 0xd8}) && bytes.HasSuffix(b, []byte{0xff, 0xd9})
		})
	}
	for _, id := range a.closed {
		look(fmt.Sprintf("/jobs/%d", id), func(b []byte) bool {
			return bytes.Contains(b, []byte(`"closed_at"`)) && bytes.Contains(b, []byte(`"done"`))
		})
	}
	// Every unit that is there is there whole, acknowledged or not.
	var all []struct{ ID int }
	_, b, err := in.do("GET", "/units?search=killed&per=200", "")
	if err := errors.Join(err, json.Unmarshal(b, &all)); err != nil {
		return broken, err
	}
	there := map[int]bool{}
	for _, u := range all {
		there[u.ID] = true
		look(fmt.Sprintf("/units/%d/photos", u.ID), func(b []byte) bool { return bytes.Contains(b, []byte(`"width":64`)) })
	}
	for _, id := range a.units {
		if !there[id] {
			broken++
		}
	}
	return broken, nil
}

// killed ends a server while photos, imports and closings are under way: what was
// acknowledged is there, and nothing is there by half.
func (p *pair) killed() (line, error) {
	l := line{what: "photos, imports, closings acknowledged, kill -9", wrong: "not there, or there by half"}
	unit, err := p.both[0].made("POST", "/units", `{"name":"Killed","kind":"truck","layout":"rear_drive"}`)
	if err != nil {
		return l, err
	}
	at := fmt.Sprintf("/units/%d", unit)
	for round := range 3 {
		first := fmt.Sprintf(`{"key":"killed-first-%d","image":"%s"}`, round, picture(3))
		if _, err := p.both[0].made("POST", at+"/photos", first); err != nil {
			return l, err
		}
		_, archive, err := p.both[0].do("GET", at+"/document.zip", "")
		if err != nil {
			return l, err
		}
		var a acknowledged
		a.write(p.both[0], at, string(archive), fmt.Sprint(round))
		if err := p.again(); err != nil {
			return l, err
		}
		l.tried += len(a.photos) + len(a.units) + len(a.closed)
		broken, err := a.missing(p.both[0])
		if err != nil {
			return l, err
		}
		l.broken += broken
	}
	return l, nil
}

// restored ends restores in the middle: no server starts on what they leave, and the
// next one makes it whole.
func (p *pair) restored(db *localdb.Server, dir string) (line, error) {
	l := line{what: "restores, kill -9", wrong: "that left something"}
	file := filepath.Join(dir, "hammer.zip")
	if out, err := exec.Command(p.bin, "backup", file, "--dsn", p.dsn).CombinedOutput(); err != nil {
		return l, fmt.Errorf("%s: %w", out, err)
	}
	for n, after := range []time.Duration{150, 400, 800, 1600} {
		dsn, err := db.Create(context.Background(), fmt.Sprint("zorvel_back_", n))
		if err != nil {
			return l, err
		}
		l.tried++
		cmd := exec.Command(p.bin, "restore", file, "--dsn", dsn)
		if err := cmd.Start(); err != nil {
			return l, err
		}
		time.Sleep(after * time.Millisecond)
		_ = cmd.Process.Kill()
		finished := cmd.Wait() == nil
		ctx, cancel := context.WithTimeout(context.Background(), 10*time.Second)
		out, err := exec.CommandContext(ctx, p.bin, "migrate", "--dsn", dsn).CombinedOutput()
		cancel()
		refused := err != nil && bytes.Contains(out, []byte("cut off"))
		empty := after < 400 && err == nil // it had not begun
		if finished || empty {
			continue
		}
		fmt.Printf("ended after %d ms, a server is refused: %v\n", after, refused)
		if !refused {
			fmt.Printf("after %d ms: %s %v\n", after, out, err)
			l.broken++
			continue
		}
		if out, err := exec.Command(p.bin, "restore", file, "--dsn", dsn).CombinedOutput(); err != nil {
			fmt.Printf("again: %s\n", out)
			l.broken++
		}
	}
	return l, nil
}
