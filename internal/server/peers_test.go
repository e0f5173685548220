package server_test

import (
	"bufio"
	"context"
	"io"
	"log/slog"
	"net"
	"net/http"
	"strings"
	"testing"
	"time"

	"zorvel/internal/httpd"
	"zorvel/internal/server"
	"zorvel/internal/testkit"
)

// listen serves an empty shop on a port of its own, as the command does.
func listen(t *testing.T, p httpd.Patience) (address string) {
	t.Helper()
	srv, err := server.New(server.Config{Store: testkit.Store(t), Log: slog.New(slog.DiscardHandler), Patience: p})
	if err != nil {
		t.Fatal(err)
	}
	ctx, cancel := context.WithCancel(t.Context())
	ready, done := make(chan string, 1), make(chan error, 1)
	go func() { done <- srv.Serve(ctx, "127.0.0.1:0", func(a string) { ready <- a }) }()
	t.Cleanup(func() {
		cancel()
		if err := <-done; err != nil {
			t.Error(err)
		}
	})
	select {
	case address = <-ready:
	case err := <-done:
		t.Fatalf("it doesn't serve: %v", err)
	}
	return address
}

// peer is a bare connection: what is sent, and when, is up to the test.
func peer(t *testing.T, address, send string) net.Conn {
	t.Helper()
	conn, err := net.Dial("tcp", address)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = conn.Close() })
	if err := conn.SetDeadline(time.Now().Add(20 * time.Second)); err != nil {
		t.Fatal(err)
	}
	if _, err := io.WriteString(conn, send); err != nil {
		t.Fatal(err)
	}
	return conn
}

const half = "POST /api/v1/calc/tire HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\nContent-Length: 200\r\n\r\n{\"tires\":["

// Peers that stop halfway are let go, and nothing that they send later is
// taken for a request.
func TestSlowPeers(t *testing.T) {
	address := listen(t, httpd.Patience{Header: 300 * time.Millisecond, Request: 600 * time.Millisecond, Answer: 10 * time.Second, Between: 400 * time.Millisecond})

	// The header never ends.
	if b, err := io.ReadAll(peer(t, address, "GET /healthz HTTP/1.1\r\nHost: x\r\n")); err != nil || strings.Contains(string(b), "200 OK") {
		t.Errorf("half a header: %q, %v", b, err)
	}

	// The body never ends; then comes what looks like a request.
	conn := peer(t, address, half)
	in := bufio.NewReader(conn)
	res, err := http.ReadResponse(in, nil)
	if err != nil {
		t.Fatal(err)
	}
	told, _ := io.ReadAll(res.Body)
	_ = res.Body.Close()
	if res.StatusCode != 400 || !res.Close || !strings.Contains(string(told), "broke off") {
		t.Errorf("half a body: %d, closes %v: %s", res.StatusCode, res.Close, told)
	}
	_, _ = io.WriteString(conn, "GET /healthz HTTP/1.1\r\nHost: x\r\n\r\n") // may fail: the other end is gone
	if b, _ := io.ReadAll(in); len(b) > 0 {
		t.Errorf("what came after half a body was answered: %q", b)
	}

	// Nothing is asked for a while.
	conn = peer(t, address, "GET /healthz HTTP/1.1\r\nHost: x\r\n\r\n")
	if b, err := io.ReadAll(conn); err != nil || !strings.Contains(string(b), "200 OK") {
		t.Errorf("an idle connection: %q, %v", b, err)
	}
}

// Many who stop halfway keep nobody else waiting.
func TestManySlowPeers(t *testing.T) {
	address := listen(t, httpd.Patience{Header: 5 * time.Second, Request: 5 * time.Second, Answer: 10 * time.Second, Between: 5 * time.Second})
	for range 200 {
		peer(t, address, half)
	}
	c := newClient(t, "http://"+address)
	for range 5 {
		began := time.Now()
		c.want(200, "POST", "/api/v1/calc/tire", `{"tires":[{"marking":"225/75R16"}]}`)
		if d := time.Since(began); d > 4*time.Second {
			t.Errorf("someone else waited %v", d)
		}
	}
}
