package main

import (
	"bufio"
	"bytes"
	"context"
	"fmt"
	"io"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"
)

// build makes the binary once for all tests of this package.
var build = sync.OnceValues(func() (string, error) {
	dir, err := os.MkdirTemp("", "zorvelbin")
	if err != nil {
		return "", err
	}
	bin := filepath.Join(dir, "zorvel")
	out, err := exec.Command("go", "build", "-o", bin, ".").CombinedOutput()
	if err != nil {
		return "", fmt.Errorf("%w: %s", err, out)
	}
	return bin, nil
})

func TestMain(m *testing.M) {
	code := m.Run()
	if bin, err := build(); err == nil {
		_ = os.RemoveAll(filepath.Dir(bin))
	}
	os.Exit(code)
}

func binary(t *testing.T) string {
	t.Helper()
	bin, err := build()
	if err != nil {
		t.Fatal(err)
	}
	return bin
}

// output collects what a process prints; it is read while it is written.
type output struct {
	mu sync.Mutex
	b  bytes.Buffer
}

func (o *output) Write(p []byte) (int, error) {
	o.mu.Lock()
	defer o.mu.Unlock()
	return o.b.Write(p)
}

func (o *output) String() string {
	o.mu.Lock()
	defer o.mu.Unlock()
	return o.b.String()
}

// demo starts the demo and waits until it says where it is.
func startDemo(t *testing.T, args ...string) (cmd *exec.Cmd, address string, out *output) {
	t.Helper()
	out = &output{}
	cmd = exec.Command(binary(t), append([]string{"demo"}, args...)...)
	cmd.Stdout, cmd.Stderr = out, out
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = cmd.Process.Kill() })
	ready := regexp.MustCompile(`ready:\s+(http://\S+)`)
	for end := time.Now().Add(60 * time.Second); time.Now().Before(end); time.Sleep(50 * time.Millisecond) {
		if m := ready.FindStringSubmatch(out.String()); m != nil {
			return cmd, m[1], out
		}
	}
	t.Fatalf("the demo never got ready:\n%s", out)
	return nil, "", nil
}

func get(t *testing.T, url string) (int, string) {
	t.Helper()
	ctx, cancel := context.WithTimeout(t.Context(), 10*time.Second)
	defer cancel()
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, url, nil)
	if err != nil {
		t.Fatal(err)
	}
	res, err := http.DefaultClient.Do(req)
	if err != nil {
		return 0, err.Error()
	}
	defer func() { _ = res.Body.Close() }()
	b, err := io.ReadAll(res.Body)
	if err != nil {
		t.Fatal(err)
	}
	return res.StatusCode, string(b)
}

// stop presses Ctrl-C and waits.
func stop(t *testing.T, cmd *exec.Cmd) {
	t.Helper()
	if err := cmd.Process.Signal(syscall.SIGINT); err != nil {
		t.Fatal(err)
	}
	done := make(chan error, 1)
	go func() { done <- cmd.Wait() }()
	select {
	case err := <-done:
		if err != nil {
			t.Errorf("after Ctrl-C: %v", err)
		}
	case <-time.After(40 * time.Second):
		t.Fatal("Ctrl-C did not stop the demo")
	}
}

// A taken port, Ctrl-C, a crash, and a second start that keeps the data.
func TestDemoStartsStopsAndRecovers(t *testing.T) {
	taken, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = taken.Close() }()
	port := fmt.Sprint(taken.Addr().(*net.TCPAddr).Port)
	binary(t) // built outside of the directory that is looked at
	dir, temp := t.TempDir(), t.TempDir()
	t.Setenv("TMPDIR", temp)

	cmd, address, out := startDemo(t, "--dir", dir, "--port", port)
	if strings.HasSuffix(address, ":"+port) || !strings.Contains(out.String(), "Port "+port+" is taken") {
		t.Errorf("a taken port isn't said:\n%s", out)
	}
	for _, want := range []string{"oda", "ivar", "runa", "Ctrl-C"} {
		if !strings.Contains(out.String(), want) {
			t.Errorf("the greeting lacks %q", want)
		}
	}
	if code, body := get(t, address+"/readyz"); code != 200 {
		t.Errorf("readyz: %d %s", code, body)
	}
	if code, body := get(t, address+"/api/v1/session"); code != 200 || !strings.Contains(body, "Oda Brenk") {
		t.Errorf("session: %d %s", code, body)
	}
	pid, err := os.ReadFile(filepath.Join(dir, "mariadb", "mariadbd.pid"))
	if err != nil {
		t.Fatal(err)
	}
	stop(t, cmd)
	if code, _ := get(t, address+"/healthz"); code != 0 {
		t.Error("it still answers after Ctrl-C")
	}
	if comm, err := os.ReadFile("/proc/" + strings.TrimSpace(string(pid)) + "/comm"); err == nil && strings.HasPrefix(string(comm), "mariadbd") {
		t.Error("MariaDB runs on after Ctrl-C")
	}

	// A crash takes the database along; the next start, at once, finds the data.
	cmd, _, _ = startDemo(t, "--dir", dir, "--port", "0")
	if err := cmd.Process.Kill(); err != nil {
		t.Fatal(err)
	}
	_ = cmd.Wait()
	cmd, address, _ = startDemo(t, "--dir", dir, "--port", "0")
	if code, body := get(t, address+"/api/v1/session"); code != 200 || !strings.Contains(body, `"needs_owner":false`) {
		t.Errorf("the start after the crash: %d %s", code, body)
	}

	// A second start on its data leaves it alone, whatever it was asked to do.
	out2, err := exec.Command(binary(t), "demo", "--dir", dir, "--port", "0", "--reset").CombinedOutput()
	if err == nil || !strings.Contains(string(out2), "in use by another Zorvel") {
		t.Errorf("two starts on one directory: %v, %s", err, out2)
	}

	// A database that dies comes back.
	b, err := os.ReadFile(filepath.Join(dir, "mariadb", "mariadbd.pid"))
	if err != nil {
		t.Fatal(err)
	}
	dead, err := strconv.Atoi(strings.TrimSpace(string(b)))
	if err != nil {
		t.Fatal(err)
	}
	if err := syscall.Kill(dead, syscall.SIGKILL); err != nil {
		t.Fatal(err)
	}
	code := 0
	for end := time.Now().Add(30 * time.Second); time.Now().Before(end) && code != 200; time.Sleep(100 * time.Millisecond) {
		if b, err := os.ReadFile(filepath.Join(dir, "mariadb", "mariadbd.pid")); err != nil || strings.TrimSpace(string(b)) == fmt.Sprint(dead) {
			continue // not started again yet
		}
		code, _ = get(t, address+"/readyz")
	}
	if code != 200 {
		t.Errorf("readyz after the database died: %d", code)
	}
	if code, body := get(t, address+"/api/v1/session"); code != 200 || !strings.Contains(body, "Oda Brenk") {
		t.Errorf("after the database died: %d %s", code, body)
	}
	stop(t, cmd)
	if left, err := os.ReadDir(temp); err != nil || len(left) > 0 {
		t.Errorf("left in the temporary directory: %v, %v", left, err)
	}
}

// A database that is frozen is told within a few seconds, calculations go on,
// and when it thaws all goes on.
func TestFrozenDatabase(t *testing.T) {
	dir := t.TempDir()
	cmd, address, _ := startDemo(t, "--dir", dir, "--port", "0")
	b, err := os.ReadFile(filepath.Join(dir, "mariadb", "mariadbd.pid"))
	if err != nil {
		t.Fatal(err)
	}
	pid, err := strconv.Atoi(strings.TrimSpace(string(b)))
	if err != nil {
		t.Fatal(err)
	}
	post := func(path, body string) int {
		ctx, cancel := context.WithTimeout(t.Context(), 15*time.Second)
		defer cancel()
		req, err := http.NewRequestWithContext(ctx, http.MethodPost, address+path, strings.NewReader(body))
		if err != nil {
			t.Fatal(err)
		}
		req.Header.Set("Content-Type", "application/json")
		res, err := http.DefaultClient.Do(req)
		if err != nil {
			return 0
		}
		_ = res.Body.Close()
		return res.StatusCode
	}
	const calc, tire = "/api/v1/calc/tire", `{"tires":[{"marking":"225/75R16"}]}`
	const session, guess = "/api/v1/session", `{"sign_in":"ivar","password":"guess"}`
	if err := syscall.Kill(pid, syscall.SIGSTOP); err != nil {
		t.Fatal(err)
	}
	defer func() { _ = syscall.Kill(pid, syscall.SIGCONT) }()
	for range 3 {
		began := time.Now()
		if code := post(session, guess); code != 503 {
			t.Errorf("a sign-in while the database is frozen: %d", code)
		}
		t.Logf("told after %v", time.Since(began))
		if code := post(calc, tire); code != 200 {
			t.Errorf("a calculation while the database is frozen: %d", code)
		}
	}
	if code, _ := get(t, address+"/readyz"); code != 503 {
		t.Errorf("readyz: %d", code)
	}
	if err := syscall.Kill(pid, syscall.SIGCONT); err != nil {
		t.Fatal(err)
	}
	code := 0
	for end := time.Now().Add(20 * time.Second); time.Now().Before(end) && code != 401; time.Sleep(100 * time.Millisecond) {
		code = post(session, guess)
	}
	if code != 401 {
		t.Errorf("after it thawed: %d", code)
	}
	stop(t, cmd)
}

func TestEmptyDemoAsksForTheOwner(t *testing.T) {
	cmd, address, _ := startDemo(t, "--dir", t.TempDir(), "--port", "0", "--empty")
	if code, body := get(t, address+"/api/v1/session"); code != 200 || !strings.Contains(body, `"needs_owner":true`) || !strings.Contains(body, `"demo_accounts":[]`) {
		t.Errorf("%d %s", code, body)
	}
	stop(t, cmd)
}

func TestRefusals(t *testing.T) {
	cases := []struct {
		args []string
		says string
	}{
		{[]string{"serve"}, "no database: give --dsn or ZORVEL_DSN"},
		{[]string{"serve", "--dsn", "u:p@tcp(127.0.0.1:1)/zorvel"}, "does not answer at 127.0.0.1:1"},
		{[]string{"serve", "--dsn", "what"}, "not understood"},
		{[]string{"serve", "--dsn", "x", "--log", "loud"}, "choose debug, info, warn or error"},
		{[]string{"migrate", "--dsn", "u:p@tcp(127.0.0.1:1)/zorvel"}, "does not answer"},
		{[]string{"accuracy", "--technicians", "0"}, "choose 1 to 1,000,000"},
		{[]string{"fly"}, "unknown command"},
	}
	for _, c := range cases {
		cmd := exec.Command(binary(t), c.args...)
		cmd.Env = append(os.Environ(), "ZORVEL_DSN=")
		out, err := cmd.CombinedOutput()
		if err == nil || !strings.Contains(string(out), c.says) {
			t.Errorf("zorvel %v: %v, %q; want %q", c.args, err, out, c.says)
		}
	}
}

func TestAccuracyPrintsItsTables(t *testing.T) {
	var a, b, status bytes.Buffer
	if err := accuracy(&a, io.Discard, 25, 3); err != nil {
		t.Fatal(err)
	}
	if err := accuracy(&b, &status, 25, 3); err != nil {
		t.Fatal(err)
	}
	if a.String() != b.String() {
		t.Error("the same seed gave another result")
	}
	if !strings.Contains(status.String(), "100/100") {
		t.Errorf("no progress up to the last technician: %q", &status)
	}
	for _, want := range []string{"recommended next measurement, errors × 1,", "fixed order: tag, one turn by eye, teeth, errors × 1.5", "mean minutes", "called sure"} {
		if !strings.Contains(a.String(), want) {
			t.Errorf("lacks %q:\n%s", want, &a)
		}
	}
}

// The simulated programmer by itself, spoken to line by line.
func TestProgrammerSpeaksItsLines(t *testing.T) {
	out := &output{}
	cmd := exec.Command(binary(t), "programmer", "--addr", "127.0.0.1:0", "--pulses", "15000")
	cmd.Stdout, cmd.Stderr = out, out
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = cmd.Process.Kill() })
	where := regexp.MustCompile(`at (127\.0\.0\.1:\d+), holding 15000 `)
	addr := ""
	for end := time.Now().Add(20 * time.Second); addr == "" && time.Now().Before(end); time.Sleep(20 * time.Millisecond) {
		if m := where.FindStringSubmatch(out.String()); m != nil {
			addr = m[1]
		}
	}
	if addr == "" {
		t.Fatalf("it never says where it is: %s", out)
	}
	conn, err := net.DialTimeout("tcp", addr, 5*time.Second)
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = conn.Close() }()
	if err := conn.SetDeadline(time.Now().Add(20 * time.Second)); err != nil {
		t.Fatal(err)
	}
	in := bufio.NewReader(conn)
	says := func(want string) {
		t.Helper()
		line, err := in.ReadString('\n')
		if err != nil || strings.TrimSuffix(line, "\n") != want {
			t.Errorf("it says %q (%v), want %q", line, err, want)
		}
	}
	says("READY zorvel-programmer 1 stand-in")
	for _, c := range [][2]string{
		{"READ", "VALUE 15000"}, {"RANGE", "RANGE 500 60000"}, {"COMMIT 15000", "REFUSED nothing held"}, {"WRITE 70000", "REFUSED range 500 60000"},
		{"WRITE many", "REFUSED syntax"}, {"WRITE 15104.5", "HELD 15104.5"}, {"READ", "VALUE 15000"}, {"COMMIT 15104.5", "DONE 15104.5"},
		{"READ", "VALUE 15104.5"}, {"SING", "REFUSED unknown"}, {"", "REFUSED unknown"}, {"FAIL burn", "REFUSED syntax"}, {"FAIL busy", "OK"}, {"WRITE 16000", "REFUSED busy"}, {"WRITE 16000", "HELD 16000"},
	} {
		if _, err := io.WriteString(conn, c[0]+"\n"); err != nil {
			t.Fatal(err)
		}
		says(c[1])
	}
	stop(t, cmd)
}
