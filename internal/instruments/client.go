// Package instruments reads a boat's instruments, NMEA 0183 over TCP, and has a
// simulated set of them.
package instruments

import (
	"bufio"
	"context"
	"errors"
	"io"
	"net"
	"os"
	"sync"
	"time"

	core "zorvel/core/instruments"
)

// keep is how much of the stream is held, in seconds and in samples.
const (
	keep        = 120.0
	mostSamples = 1500
)

// Patience with the line: to connect, and between two sentences.
const (
	connectWithin = 3 * time.Second
	silentFor     = 8 * time.Second
	retryAfter    = time.Second
)

// State is the stream as it stands.
type State struct {
	Connected bool
	Trouble   string // why not, in words
	Now       core.Sample
	Age       float64 // seconds since a figure came
	Samples   []core.Sample
	Count     core.Count
	Steady    *core.Steady
}

// Client follows one address, and finds it again by itself.
type Client struct {
	Addr string

	mu        sync.Mutex
	connected bool
	trouble   string
	begin     time.Time
	last      time.Time
	reader    core.Reader
	samples   []core.Sample
}

// Run reads until ctx is done.
func (c *Client) Run(ctx context.Context) {
	c.mu.Lock()
	c.begin, c.trouble = time.Now(), "connecting"
	c.mu.Unlock()
	for ctx.Err() == nil {
		err := c.follow(ctx)
		c.mu.Lock()
		c.connected = false
		c.trouble = words(err)
		c.mu.Unlock()
		select {
		case <-ctx.Done():
		case <-time.After(retryAfter):
		}
	}
}

func (c *Client) follow(ctx context.Context) error {
	d := net.Dialer{Timeout: connectWithin}
	conn, err := d.DialContext(ctx, "tcp", c.Addr)
	if err != nil {
		return err
	}
	defer func() { _ = conn.Close() }()
	stop := context.AfterFunc(ctx, func() { _ = conn.Close() })
	defer stop()
	c.mu.Lock()
	c.connected, c.trouble = true, ""
	c.mu.Unlock()
	// A line that never ends is cut, not gathered.
	in := bufio.NewReaderSize(conn, 4096)
	for {
		if err := conn.SetReadDeadline(time.Now().Add(silentFor)); err != nil {
			return err
		}
		line, err := in.ReadSlice('\n')
		if errors.Is(err, bufio.ErrBufferFull) {
			c.take("", time.Now())
			continue
		}
		if err != nil {
			return err
		}
		c.take(string(line), time.Now())
	}
}

func (c *Client) take(line string, now time.Time) {
	c.mu.Lock()
	defer c.mu.Unlock()
	s, used := c.reader.Take(line, now.Sub(c.begin).Seconds())
	if !used {
		return
	}
	c.last = now
	if n := len(c.samples); n > 0 && s.At-c.samples[n-1].At < 0.05 {
		c.samples[n-1] = s
		return
	}
	c.samples = append(c.samples, s)
	from := 0
	for from < len(c.samples) && (s.At-c.samples[from].At > keep || len(c.samples)-from > mostSamples) {
		from++
	}
	c.samples = append(c.samples[:0], c.samples[from:]...)
}

// State is a copy of how the stream stands.
func (c *Client) State() State {
	c.mu.Lock()
	out := State{Connected: c.connected, Trouble: c.trouble, Count: c.reader.Count, Samples: append([]core.Sample{}, c.samples...)}
	if n := len(out.Samples); n > 0 {
		out.Now, out.Age = out.Samples[n-1], time.Since(c.last).Seconds()
	}
	c.mu.Unlock()
	if out.Connected && len(out.Samples) > 0 && out.Age > 4 {
		out.Trouble = "connected, and silent"
	}
	if s, ok := core.FindSteady(out.Samples); ok {
		out.Steady = &s
	}
	return out
}

// words says why the line is down.
func words(err error) string {
	var op *net.OpError
	switch {
	case errors.Is(err, os.ErrDeadlineExceeded):
		return "nothing came for eight seconds"
	case errors.Is(err, io.EOF):
		return "the instruments closed the line"
	case errors.As(err, &op) && op.Op == "dial":
		return "nothing answers at this address"
	case err == nil:
		return ""
	}
	return "the line broke"
}
