package sensors

import (
	"context"
	"fmt"
	"net"
	"strings"
	"testing"
	"time"

	"zorvel/core/live"
	"zorvel/internal/standin"
)

func TestParseLine(t *testing.T) {
	for line, want := range map[string]Pulse{
		"1 1000\n":         {1, 1000, 0},
		"2 5 +":            {2, 5, 1},
		" 15 99999 - \r\n": {15, 99999, -1},
	} {
		if p, ok, broken := ParseLine(line); !ok || broken || p != want {
			t.Errorf("%q: %+v %v %v", line, p, ok, broken)
		}
	}
	for _, quiet := range []string{"", "\n", "# alive", "#1 2"} {
		if _, ok, broken := ParseLine(quiet); ok || broken {
			t.Errorf("%q is taken", quiet)
		}
	}
	for _, wrong := range []string{"1", "x 1", "1 x", "-1 5", "16 5", "1 -5", "1 5 *", "1 5 + 6",
		"1 9999999999999999999", strings.Repeat("9", 5000)} {
		if _, ok, broken := ParseLine(wrong); ok || !broken {
			t.Errorf("%.40q is taken", wrong)
		}
	}
}

// until waits for something on the client.
func until(t *testing.T, what string, is func() bool) {
	t.Helper()
	ctx, cancel := context.WithTimeout(t.Context(), 30*time.Second)
	defer cancel()
	for !is() {
		select {
		case <-ctx.Done():
			t.Fatalf("never: %s", what)
		case <-time.After(5 * time.Millisecond):
		}
	}
}

// The client follows the stand-in, says when it is gone, finds it again, and knows that
// its clock began again.
func TestClientFindsAgain(t *testing.T) {
	turning := Van()
	turning.Speed = 5
	s, err := Start("127.0.0.1:0", turning)
	if err != nil {
		t.Fatal(err)
	}
	addr := s.Addr()
	c := NewClient(addr)
	ctx, cancel := context.WithCancel(t.Context())
	done := make(chan struct{})
	go func() { defer close(done); c.Run(ctx) }()
	t.Cleanup(func() { cancel(); <-done })
	var first Batch
	until(t, "pulses of three channels", func() bool {
		if b := c.Take(); len(b.Pulses) > 0 {
			first = b
		}
		return len(c.Line().Channels) == 3
	})
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	until(t, "the end told", func() bool { l := c.Line(); return !l.Connected && l.Trouble != "" })
	again, err := Start(addr, turning)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = again.Close() })
	until(t, "pulses of a new clock", func() bool {
		b := c.Take()
		return len(b.Pulses) > 0 && b.Epoch != first.Epoch
	})
}

// A line that floods, never ends, or speaks of nothing known takes nothing down.
func TestBadLines(t *testing.T) {
	for name, speak := range map[string]func(net.Conn){
		"floods": func(c net.Conn) {
			for i := 0; ; i++ {
				if _, err := fmt.Fprintf(c, "1 %d\n", i); err != nil {
					return
				}
			}
		},
		"never ends": func(c net.Conn) {
			for {
				if _, err := c.Write([]byte(strings.Repeat("1", 9000))); err != nil {
					return
				}
			}
		},
		"hangs up": func(net.Conn) {},
	} {
		t.Run(name, func(t *testing.T) {
			s, err := standin.Listen("127.0.0.1:0", speak)
			if err != nil {
				t.Fatal(err)
			}
			t.Cleanup(func() { _ = s.Close() })
			c := NewClient(s.Addr())
			ctx, cancel := context.WithCancel(t.Context())
			done := make(chan struct{})
			go func() { defer close(done); c.Run(ctx) }()
			t.Cleanup(func() { cancel(); <-done })
			if name == "never ends" {
				until(t, "it to be connected", func() bool { return c.Line().Connected })
			} else {
				until(t, "the trouble told", func() bool { return c.Line().Trouble != "" })
			}
			if n := len(c.Take().Pulses); n > mostWaiting {
				t.Errorf("%d pulses wait", n)
			}
		})
	}
}

// What the stand-in plays is what live counts: swapped channels are swapped.
func TestStandInSwaps(t *testing.T) {
	plain, swapped := &StandIn{turning: Van()}, &StandIn{turning: Van()}
	swapped.turning.SwapChannels = true
	if plain.channel(live.Input) != 1 || swapped.channel(live.Input) != 2 || swapped.channel(live.Left) != 1 ||
		swapped.channel(live.Right) != 3 {
		t.Error("channels")
	}
}
