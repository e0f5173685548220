package lines

import (
	"context"
	"errors"
	"net"
	"strings"
	"testing"
	"time"

	"zorvel/internal/standin"
)

// What a device does to the line is told in words, and it is found again.
func TestTroubles(t *testing.T) {
	long := strings.Repeat("x", 9000) + "\n"
	for name, c := range map[string]struct {
		talk func(net.Conn)
		want string
	}{
		"hangs up":  {func(net.Conn) {}, "the device closed the line"},
		"is silent": {func(c net.Conn) { _, _ = c.Read(make([]byte, 1)) }, "nothing came"},
		"is too long": {func(c net.Conn) { _, _ = c.Write([]byte(long)); _, _ = c.Read(make([]byte, 1)) },
			"nothing came"},
		"is refused": {func(c net.Conn) { _, _ = c.Write([]byte("bad\n")); _, _ = c.Read(make([]byte, 1)) },
			"bad line"},
	} {
		t.Run(name, func(t *testing.T) {
			s, err := standin.Listen("127.0.0.1:0", c.talk)
			if err != nil {
				t.Fatal(err)
			}
			t.Cleanup(func() { _ = s.Close() })
			l := &Line{Addr: s.Addr(), Who: "the device", Silent: 100 * time.Millisecond, SilentWords: "nothing came"}
			ctx, cancel := context.WithTimeout(t.Context(), 20*time.Second)
			done := make(chan struct{})
			opened := 0
			go func() {
				defer close(done)
				l.Run(ctx, func() {
					if opened++; opened == 2 { // it came back by itself
						cancel()
					}
				}, func(line string) error {
					if strings.HasPrefix(line, "bad") {
						return errors.New("bad line")
					}
					return nil
				})
			}()
			seen := false
			for !seen && ctx.Err() == nil {
				_, trouble := l.State()
				seen = trouble == c.want
				time.Sleep(time.Millisecond)
			}
			<-done
			if !seen || opened < 2 {
				t.Errorf("told %v, opened %d times", seen, opened)
			}
		})
	}
}

func TestNobodyThere(t *testing.T) {
	l := &Line{Addr: "127.0.0.1:1"}
	ctx, cancel := context.WithCancel(t.Context())
	done := make(chan struct{})
	go func() { defer close(done); l.Run(ctx, func() {}, func(string) error { return nil }) }()
	for {
		if _, trouble := l.State(); trouble == "nothing answers at this address" {
			break
		}
		time.Sleep(time.Millisecond)
	}
	cancel()
	<-done
}
