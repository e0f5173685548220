package main

import (
	"bufio"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"github.com/getkin/kin-openapi/openapi3"

	"zorvel/api"
	"zorvel/internal/localdb"
)

// soak serves mixed traffic for a long time, at half of what the server can do, with
// its devices, uploads, imports and backups, and looks whether anything grows that
// shouldn't: memory, goroutines, files, connections, temporary files.
func soak(ctx context.Context, bin, dir string, length time.Duration) error {
	db, err := localdb.Start(ctx, filepath.Join(dir, "db"), true)
	if err != nil {
		return err
	}
	defer func() { _ = db.Stop() }()
	s := &soaked{bin: bin, dir: dir}
	if s.dsn, err = db.Create(ctx, "zorvel_soak"); err != nil {
		return err
	}
	defer s.end()
	if err := s.begin(ctx); err != nil {
		return err
	}
	most := s.limit(ctx, 20*time.Second)
	rate := max(1, most/2)
	fmt.Printf("the limit is %.0f requests a second; %v at %.0f\n\n", most, length, rate)
	return s.run(ctx, length, rate)
}

// soaked is a server with its devices, and what is known of it.
type soaked struct {
	bin, dir, dsn string
	in            *instance
	metrics       string
	programs      []*exec.Cmd
	calcs         [][2]string // path and body
	archive       string

	mu     sync.Mutex
	unit   int
	stages []int
	wrote  int

	sent, later, broken atomic.Int64
}

func (s *soaked) end() {
	for _, p := range s.programs {
		_ = p.Process.Kill()
		_ = p.Wait()
	}
}

// program starts one and keeps it until the end.
func (s *soaked) program(args ...string) (*exec.Cmd, error) {
	log, err := os.OpenFile(filepath.Join(s.dir, "log"), os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
	if err != nil {
		return nil, err
	}
	defer func() { _ = log.Close() }()
	cmd := exec.Command(s.bin, args...)
	cmd.Env = append(os.Environ(), "TMPDIR="+filepath.Join(s.dir, "tmp"))
	cmd.Stdout, cmd.Stderr = log, log
	if err := cmd.Start(); err != nil {
		return nil, err
	}
	s.programs = append(s.programs, cmd)
	return cmd, nil
}

func freeAddress() (string, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return "", err
	}
	return l.Addr().String(), l.Close()
}

// begin starts the server and its devices, and puts in what is asked for.
func (s *soaked) begin(ctx context.Context) error {
	var at [4]string
	for i := range at {
		var err error
		if at[i], err = freeAddress(); err != nil {
			return err
		}
	}
	if err := os.Mkdir(filepath.Join(s.dir, "tmp"), 0o700); err != nil {
		return err
	}
	s.metrics = "http://" + at[1] + "/metrics"
	for _, args := range [][]string{{"programmer", "--addr", at[2]}, {"instruments", "--addr", at[3]}} {
		if _, err := s.program(args...); err != nil {
			return err
		}
	}
	cmd, err := s.program("serve", "--dsn", s.dsn, "--addr", at[0], "--metrics", at[1], "--programmer", at[2],
		"--instruments", at[3], "--anonymous-rate", "0", "--log", "warn")
	if err != nil {
		return err
	}
	jar, err := cookiejar.New(nil)
	if err != nil {
		return err
	}
	s.in = &instance{cmd, "http://" + at[0], &http.Client{Jar: jar, Timeout: 30 * time.Second,
		Transport: &http.Transport{MaxIdleConnsPerHost: 64}}}
	status := 0
	for end := time.Now().Add(time.Minute); status != 201 && time.Now().Before(end); time.Sleep(100 * time.Millisecond) {
		status, _, _ = s.in.do("POST", "/owner", `{"name":"Soak",`+owner+`}`)
	}
	if status != 201 {
		return fmt.Errorf("no owner: %d", status)
	}
	for range 40 {
		if err := s.another(); err != nil {
			return err
		}
	}
	if _, err := s.in.made("POST", fmt.Sprintf("/units/%d/photos", s.unit),
		fmt.Sprintf(`{"key":"soak-first","image":"%s"}`, picture(1))); err != nil {
		return err
	}
	_, b, err := s.in.do("GET", fmt.Sprintf("/units/%d/document.zip", s.unit), "")
	s.archive = string(b)
	return errors.Join(err, s.examples())
}

// another adds a unit, on which writers go on.
func (s *soaked) another() error {
	s.mu.Lock()
	defer s.mu.Unlock()
	status, b, err := s.in.do("POST", "/units", fmt.Sprintf(`{"name":"Soaked %d","kind":"truck","layout":"part_time"}`, s.wrote))
	if err != nil || status != 201 {
		return fmt.Errorf("a unit: %d %.200s %w", status, b, err)
	}
	var unit struct {
		ID     int
		Stages []struct{ ID int }
	}
	if err := json.Unmarshal(b, &unit); err != nil {
		return err
	}
	s.unit, s.stages = unit.ID, nil
	for _, v := range unit.Stages {
		s.stages = append(s.stages, v.ID)
	}
	return nil
}

// examples are the contract's own questions.
func (s *soaked) examples() error {
	spec, err := openapi3.NewLoader().LoadFromData(api.Spec)
	if err != nil {
		return err
	}
	for path, item := range spec.Paths.Map() {
		op := item.Post
		if op == nil || op.RequestBody == nil || !strings.HasPrefix(path, "/calc/") {
			continue
		}
		if body := op.RequestBody.Value.Content.Get("application/json"); body != nil && body.Example != nil {
			b, err := json.Marshal(body.Example)
			if err != nil {
				return err
			}
			s.calcs = append(s.calcs, [2]string{path, string(b)})
		}
	}
	if len(s.calcs) < 6 {
		return fmt.Errorf("%d examples", len(s.calcs))
	}
	return nil
}

// one sends the n-th request of the mix.
func (s *soaked) one(n int) {
	s.mu.Lock()
	unit, stage := s.unit, s.stages[n%len(s.stages)]
	s.mu.Unlock()
	method, path, body := "GET", "", ""
	switch n % 20 {
	case 0, 1, 2, 3, 4:
		c := s.calcs[n/20%len(s.calcs)]
		method, path, body = "POST", c[0], c[1]
	case 5, 6, 7:
		path = fmt.Sprintf("/units/%d", 1+n%unit)
	case 8, 9:
		path = fmt.Sprintf("/stages/%d", stage)
	case 10:
		path = "/units?per=50"
	case 11:
		path = "/units?search=soaked"
	case 12:
		path = "/jobs"
	case 13, 14:
		path = "/instruments"
	case 15:
		path = fmt.Sprintf("/units/%d/history", 1+n%unit)
	case 16, 17, 18:
		s.mu.Lock()
		s.wrote++
		full := s.wrote%500 == 0
		s.mu.Unlock()
		if full { // a stage holds 200 readings
			if s.another() != nil {
				s.broken.Add(1)
			}
			return
		}
		method, path = "POST", fmt.Sprintf("/stages/%d/readings", stage)
		body = fmt.Sprintf(`{"readings":[{"key":"soak-%09d","reading":{"method":"tag","text":"4.10"}}]}`, n)
	case 19:
		switch n / 20 % 50 {
		case 0:
			method, path, body = "POST", fmt.Sprintf("/units/%d/photos", unit), fmt.Sprintf(`{"key":"soak-%09d","image":"%s"}`, n, picture(uint8(n)))
		case 1:
			method, path, body = "POST", "/units/import-zip", s.archive
		case 2:
			path = fmt.Sprintf("/units/%d/document.zip", unit)
		default:
			path = "/programmer"
		}
	}
	status, b, err := s.in.do(method, path, body)
	s.sent.Add(1)
	switch {
	case err != nil || status >= 500 && status != 503:
		s.broken.Add(1)
		fmt.Printf("%s %s: %d %.200s %v\n", method, path, status, b, err)
	case status == 503 || status == 429:
		s.later.Add(1)
	}
}

// limit is how many requests a second eight hands get answered.
func (s *soaked) limit(ctx context.Context, within time.Duration) float64 {
	end := time.Now().Add(within)
	var n atomic.Int64
	var wg sync.WaitGroup
	for range 8 {
		wg.Go(func() {
			for time.Now().Before(end) && ctx.Err() == nil {
				s.one(int(n.Add(1)))
			}
		})
	}
	wg.Wait()
	return float64(n.Load()) / within.Seconds()
}

// moment is what a server holds at a moment.
type moment struct {
	memory, heap               float64 // MB
	goroutines, files, dbConns int
	temporary                  int
	slowest                    time.Duration
}

// run keeps the rate, backs up now and then, and looks at the server twenty-four times.
func (s *soaked) run(ctx context.Context, length time.Duration, rate float64) error {
	const looks = 24
	began := time.Now()
	var slowest atomic.Int64
	work := make(chan int, 64)
	var wg sync.WaitGroup
	for range 16 {
		wg.Go(func() {
			for n := range work {
				at := time.Now()
				s.one(n)
				for d := int64(time.Since(at)); ; {
					old := slowest.Load()
					if d <= old || slowest.CompareAndSwap(old, d) {
						break
					}
				}
			}
		})
	}
	tick := time.NewTicker(time.Duration(float64(time.Second) / rate))
	defer tick.Stop()
	var list []moment
	backups, skipped := 0, 0
	var backedUp sync.WaitGroup
	fmt.Printf("%8s %8s %8s %8s %8s %8s %8s %10s\n", "after", "MB", "heap MB", "threads", "files", "database", "temp", "slowest")
	for n := 1_000_000; time.Since(began) < length && ctx.Err() == nil; n++ {
		<-tick.C
		select {
		case work <- n:
		default: // all hands are at something slower
			skipped++
		}
		if time.Since(began) >= length*time.Duration(len(list)+1)/looks {
			x, err := s.look(ctx)
			if err != nil {
				return err
			}
			x.slowest = time.Duration(slowest.Swap(0))
			list = append(list, x)
			fmt.Printf("%8s %8.0f %8.0f %8d %8d %8d %8d %10s\n", time.Since(began).Round(time.Second), x.memory, x.heap, x.goroutines, x.files,
				x.dbConns, x.temporary, x.slowest.Round(time.Millisecond))
			if len(list)%4 == 2 {
				backups++
				file := filepath.Join(s.dir, fmt.Sprintf("backup-%d.zip", backups))
				backedUp.Go(func() {
					if out, err := exec.Command(s.bin, "backup", file, "--dsn", s.dsn).CombinedOutput(); err != nil {
						fmt.Printf("backup: %s %v\n", out, err)
						s.broken.Add(1)
					}
					_ = os.Remove(file)
				})
			}
		}
	}
	close(work)
	wg.Wait()
	backedUp.Wait()
	fmt.Printf("\n%d requests, %d answered 503 or 429, %d broken, %d not sent in time, %d backups\n",
		s.sent.Load(), s.later.Load(), s.broken.Load(), skipped, backups)
	return flat(list, s.broken.Load())
}

// look reads what the system and the server's own figures say of it.
func (s *soaked) look(ctx context.Context) (x moment, err error) {
	pid := strconv.Itoa(s.in.cmd.Process.Pid)
	b, err := os.ReadFile("/proc/" + pid + "/status")
	if err != nil {
		return x, fmt.Errorf("the server is gone: %w", err)
	}
	if _, after, ok := strings.Cut(string(b), "VmRSS:"); ok {
		_, _ = fmt.Sscan(after, &x.memory)
		x.memory /= 1024
	}
	fds, err := os.ReadDir("/proc/" + pid + "/fd")
	if err != nil {
		return x, err
	}
	x.files = len(fds)
	temp, err := os.ReadDir(filepath.Join(s.dir, "tmp"))
	if err != nil {
		return x, err
	}
	x.temporary = len(temp)
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, s.metrics, nil)
	if err != nil {
		return x, err
	}
	res, err := http.DefaultClient.Do(req)
	if err != nil {
		return x, err
	}
	defer func() { _ = res.Body.Close() }()
	for lines := bufio.NewScanner(res.Body); lines.Scan(); {
		name, value, _ := strings.Cut(lines.Text(), " ")
		v, _ := strconv.ParseFloat(value, 64)
		switch {
		case name == "go_goroutines":
			x.goroutines = int(v)
		case name == "go_memstats_heap_inuse_bytes":
			x.heap = v / (1 << 20)
		case strings.HasPrefix(name, "go_sql_open_connections"):
			x.dbConns = int(v)
		}
	}
	return x, nil
}

// flat reports whether the last third holds more than the middle one did.
func flat(list []moment, broken int64) error {
	if len(list) < 12 {
		return errors.New("too short to tell")
	}
	middle := func(part []moment, of func(moment) float64) float64 {
		v := make([]float64, len(part))
		for i, x := range part {
			v[i] = of(x)
		}
		slices.Sort(v)
		return v[len(v)/2]
	}
	third := len(list) / 3
	var errs []error
	for _, w := range []struct {
		name  string
		of    func(moment) float64
		slack float64
	}{
		{"memory, MB", func(x moment) float64 { return x.memory }, 20},
		{"goroutines", func(x moment) float64 { return float64(x.goroutines) }, 5},
		{"open files", func(x moment) float64 { return float64(x.files) }, 5},
		{"database connections", func(x moment) float64 { return float64(x.dbConns) }, 2},
		{"temporary files", func(x moment) float64 { return float64(x.temporary) }, 1},
	} {
		a, b := middle(list[third:2*third], w.of), middle(list[2*third:], w.of)
		fmt.Printf("%-24s %8.0f in the middle third, %8.0f in the last\n", w.name, a, b)
		if b > 1.1*a+w.slack {
			errs = append(errs, fmt.Errorf("%s grows", w.name))
		}
	}
	if broken > 0 {
		errs = append(errs, fmt.Errorf("%d requests broke", broken))
	}
	return errors.Join(errs...)
}
