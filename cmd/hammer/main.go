// Command hammer tries whether the server holds: it starts an instance of its
// own, sends mutated requests over every operation of the contract, used keys and
// many large bodies, writes with many hands at once while the instance is killed
// again and again, then tries two servers on one database (cold readers, clocks
// that differ, kills while photos, imports, closings and restores are under way),
// and ends with a table. It leaves nothing behind.
//
//	hammer [flags] path/to/zorvel
//	hammer -cluster [flags] path/to/zorvel
//	hammer -soak 2h path/to/zorvel
package main

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"io"
	"log"
	"math/rand/v2"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"regexp"
	"slices"
	"strings"
	"sync"
	"time"
)

func main() {
	log.SetFlags(0)
	requests := flag.Int("requests", 6000, "mutated requests")
	clients := flag.Int("clients", 64, "hands at once")
	rounds := flag.Int("rounds", 4, "times that the instance is killed")
	each := flag.Duration("each", 4*time.Second, "how long a round writes before the kill")
	seed := flag.Uint64("seed", 1, "of the mutations")
	ofCluster := flag.Bool("cluster", false, "try a cluster: three nodes, two servers (-clients, -rounds, -each)")
	length := flag.Duration("soak", 0, "serve mixed traffic for so long at half of what the server can do, and see whether anything grows")
	flag.Parse()
	if flag.NArg() != 1 {
		log.Fatal("usage: hammer [flags] path/to/zorvel")
	}
	dir, err := os.MkdirTemp("", "hammer-")
	if err != nil {
		log.Fatal(err)
	}
	switch {
	case *length > 0:
		err = soak(context.Background(), flag.Arg(0), dir, *length)
	case *ofCluster:
		err = errors.Join(os.Chmod(dir, 0o755), trial{clients: *clients, rounds: *rounds, races: 25,
			each: *each}.run(context.Background(), flag.Arg(0), dir))
	default:
		err = run(flag.Arg(0), dir, *requests, *clients, *rounds, *each, *seed)
	}
	if e := os.RemoveAll(dir); err == nil {
		err = e
	}
	if err != nil {
		log.Fatal(err)
	}
}

func run(bin, dir string, requests, clients, rounds int, each time.Duration, seed uint64) error {
	in, err := start(bin, dir)
	if err != nil {
		return err
	}
	defer func() { in.kill() }()
	fmt.Printf("mutating %d requests over every operation\n", requests)
	m, err := mutate(in, requests, seed)
	if err != nil {
		return err
	}
	m.print()
	peak := in.memory()
	var lines []line
	for _, attack := range []func(*instance) (line, error){usedKeys, largeBodies} {
		l, err := attack(in)
		if err != nil {
			return err
		}
		lines = append(lines, l)
	}
	peakBodies := in.memory()
	var h hands
	for r := range rounds {
		fmt.Printf("round %d: %d hands write, then kill -9\n", r+1, clients)
		if err := h.write(in, clients, each, r); err != nil {
			return err
		}
		peak = max(peak, in.memory())
		in.kill()
		if in, err = start(bin, dir); err != nil {
			return err
		}
	}
	found, err := h.find(in)
	if err != nil {
		return err
	}
	fmt.Printf("\n%-44s %10d\n%-44s %10d\n%-44s %10v\n", "mutated requests", m.sent, "answered 5xx", m.broken, "slowest of them", m.slowest.Round(time.Millisecond))
	fmt.Printf("%-44s %10d\n%-44s %10d\n%-44s %10d\n", "readings acknowledged", len(h.kept), "found after the last kill", found, "refused or failed while the server ran", h.failed)
	fmt.Printf("%-44s %7.0f MB\n%-44s %7.0f MB\n", "most memory of the server", peak, "and after the large bodies", peakBodies)
	in.kill()
	more, err := pairs(bin)
	if err != nil {
		return err
	}
	held := m.broken == 0 && found == len(h.kept) && h.failed == 0
	for _, l := range append(lines, more...) {
		fmt.Printf("%-44s %10d\n%-44s %10d\n", l.what, l.tried, "  "+l.wrong, l.broken)
		held = held && l.broken == 0
	}
	if !held {
		return errors.New("it does not hold")
	}
	return nil
}

// line is one of the table: how often something was tried, and how often it went
// wrong.
type line struct {
	what          string
	tried, broken int
	wrong         string
}

// instance is a demo that runs.
type instance struct {
	cmd  *exec.Cmd
	base string
	http *http.Client
}

var ready = regexp.MustCompile(`ready:\s+(http://\S+)`)

// buffer collects output that is read while it is written.
type buffer struct {
	mu sync.Mutex
	b  bytes.Buffer
}

func (b *buffer) Write(p []byte) (int, error) {
	b.mu.Lock()
	defer b.mu.Unlock()
	return b.b.Write(p)
}

func (b *buffer) String() string {
	b.mu.Lock()
	defer b.mu.Unlock()
	return b.b.String()
}

// start starts an instance, again for a while if what was killed is still
// leaving, and signs in as the owner.
func start(bin, dir string) (*instance, error) {
	var out *buffer
	for range 20 {
		out = &buffer{}
		cmd := exec.Command(bin, "demo", "--dir", dir, "--port", "0")
		cmd.Stdout, cmd.Stderr = out, out
		if err := cmd.Start(); err != nil {
			return nil, err
		}
		gone := make(chan struct{})
		go func() { _ = cmd.Wait(); close(gone) }()
		for range 1200 {
			if m := ready.FindStringSubmatch(out.String()); m != nil {
				jar, err := cookiejar.New(nil)
				if err != nil {
					return nil, err
				}
				in := &instance{cmd, m[1], &http.Client{Jar: jar, Timeout: 30 * time.Second, Transport: &http.Transport{MaxIdleConnsPerHost: 128}}}
				return in, in.signIn()
			}
			select {
			case <-gone:
			case <-time.After(50 * time.Millisecond):
				continue
			}
			break
		}
		_ = cmd.Process.Kill()
		<-gone
		time.Sleep(500 * time.Millisecond)
	}
	return nil, fmt.Errorf("the instance never got ready:\n%s", out)
}

func (in *instance) kill() {
	if in != nil {
		_ = in.cmd.Process.Kill()
	}
}

// memory is what the server holds, in MB.
func (in *instance) memory() float64 {
	b, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", in.cmd.Process.Pid))
	if err != nil {
		return 0
	}
	_, after, _ := strings.Cut(string(b), "VmHWM:")
	var kb float64
	_, _ = fmt.Sscan(after, &kb)
	return kb / 1024
}

func (in *instance) do(method, path, body string) (int, []byte, error) {
	req, err := http.NewRequestWithContext(context.Background(), method, in.base+"/api/v1"+path, strings.NewReader(body))
	if err != nil {
		return 0, nil, err
	}
	if body != "" {
		req.Header.Set("Content-Type", "application/json")
	}
	if strings.HasPrefix(body, "PK") {
		req.Header.Set("Content-Type", "application/zip")
	}
	res, err := in.http.Do(req)
	if err != nil {
		return 0, nil, err
	}
	defer func() { _ = res.Body.Close() }()
	b, err := io.ReadAll(res.Body)
	return res.StatusCode, b, err
}

func (in *instance) signIn() error {
	_, b, err := in.do("GET", "/session", "")
	if err != nil {
		return err
	}
	type account struct {
		Role, Password string
		SignIn         string `json:"sign_in"`
	}
	var s struct {
		Demo []account `json:"demo_accounts"`
	}
	if err := json.Unmarshal(b, &s); err != nil {
		return err
	}
	i := slices.IndexFunc(s.Demo, func(a account) bool { return a.Role == "owner" })
	if i < 0 {
		return errors.New("the demo offers no owner")
	}
	status, b, err := in.do("POST", "/session", fmt.Sprintf(`{"sign_in":%q,"password":%q}`, s.Demo[i].SignIn, s.Demo[i].Password))
	if err == nil && status != 200 {
		err = fmt.Errorf("signing in: %d %s", status, b)
	}
	return err
}

// hands are writers and what they were told is kept.
type hands struct {
	mu     sync.Mutex
	kept   map[string]int // key of a reading, and its stage
	stages []int
	failed int
}

// write has many clients write readings to a few units until the time is over;
// a request that is under way when the server dies counts neither way.
func (h *hands) write(in *instance, clients int, each time.Duration, round int) error {
	if h.kept == nil {
		h.kept = map[string]int{}
	}
	// New stages every round: a stage holds 200 readings.
	var stages []int
	for u := range 6 {
		parts := []string{`{"id":"pair_0","kind":"gear_pair"}`}
		for s := 1; s < 40; s++ {
			parts = append(parts, fmt.Sprintf(`{"id":"pair_%d","kind":"gear_pair","from":"pair_%d"}`, s, s-1))
		}
		status, b, err := in.do("POST", "/units", fmt.Sprintf(`{"name":"Round %d unit %d","kind":"truck","driveline":{"format":"zorvel-driveline-1","lies":"bench","parts":[%s]}}`, round, u, strings.Join(parts, ",")))
		if err != nil || status != 201 {
			return fmt.Errorf("adding a unit: %d %s %w", status, b, err)
		}
		var unit struct{ Stages []struct{ ID int } }
		if err := json.Unmarshal(b, &unit); err != nil {
			return err
		}
		for _, s := range unit.Stages {
			stages = append(stages, s.ID)
		}
	}
	h.stages = append(h.stages, stages...)
	end := time.Now().Add(each)
	var wg sync.WaitGroup
	for c := range clients {
		wg.Go(func() {
			for n := 0; time.Now().Before(end); n++ {
				stage, key := stages[(c*31+n)%len(stages)], fmt.Sprintf("%d-%d-%d", round, c, n)
				status, b, err := in.do("POST", fmt.Sprintf("/stages/%d/readings", stage), fmt.Sprintf(`{"readings":[{"key":%q,"note":%q,"reading":{"method":"tag","text":"4.10"}}]}`, key, key))
				h.mu.Lock()
				switch {
				case err == nil && status == 201:
					h.kept[key] = stage
				case err == nil && status == 422 && bytes.Contains(b, []byte("at most")): // the stage is full
				default:
					h.failed++
					log.Printf("%d %s %v", status, b, err)
				}
				h.mu.Unlock()
			}
		})
	}
	wg.Wait()
	return nil
}

// find counts how many of what was acknowledged is there.
func (h *hands) find(in *instance) (int, error) {
	there := map[string]int{}
	for _, id := range h.stages {
		status, b, err := in.do("GET", fmt.Sprintf("/stages/%d", id), "")
		if err != nil || status != 200 {
			return 0, fmt.Errorf("stage %d: %d %w", id, status, err)
		}
		var rec struct{ Readings []struct{ Note string } }
		if err := json.Unmarshal(b, &rec); err != nil {
			return 0, err
		}
		for _, r := range rec.Readings {
			there[r.Note] = id
		}
	}
	n := 0
	for key, stage := range h.kept {
		if there[key] == stage {
			n++
		}
	}
	return n, nil
}

// random is what a mutation draws from.
func random(seed uint64) *rand.Rand { return rand.New(rand.NewPCG(seed, 7)) }
