package standin

import (
	"fmt"
	"io"
	"net"
	"testing"
	"time"
)

// Whoever is talked to is let go when it closes; nobody waits for a peer that
// says nothing.
func TestCloseEndsEveryTalk(t *testing.T) {
	s, err := Listen("127.0.0.1:0", func(c net.Conn) {
		_, _ = fmt.Fprintln(c, "hello")
		_, _ = io.Copy(io.Discard, c)
	})
	if err != nil {
		t.Fatal(err)
	}
	var conns []net.Conn
	for range 5 {
		c, err := net.Dial("tcp", s.Addr())
		if err != nil {
			t.Fatal(err)
		}
		var b [6]byte
		if _, err := io.ReadFull(c, b[:]); err != nil || string(b[:]) != "hello\n" {
			t.Fatalf("%q %v", b, err)
		}
		conns = append(conns, c)
	}
	closed := make(chan error, 1)
	go func() { closed <- s.Close() }()
	select {
	case err := <-closed:
		if err != nil {
			t.Error(err)
		}
	case <-time.After(10 * time.Second):
		t.Fatal("it waits for its peers")
	}
	for _, c := range conns {
		_ = c.SetReadDeadline(time.Now().Add(5 * time.Second))
		if _, err := io.ReadAll(c); err != nil {
			t.Errorf("the line was not ended: %v", err)
		}
		_ = c.Close()
	}
	if _, err := net.Dial("tcp", s.Addr()); err == nil {
		t.Error("it still listens")
	}
}
