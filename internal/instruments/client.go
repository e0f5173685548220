// Package instruments reads a boat's instruments, NMEA 0183 over TCP, and has a
// simulated set of them.
package instruments

import (
	"context"
	"sync"
	"time"

	core "zorvel/core/instruments"
	"zorvel/internal/lines"
)

// keep is how much of the stream is held, in seconds and in samples.
const (
	keep        = 120.0
	mostSamples = 1500
)

// silentFor is how long nothing may come between two sentences.
const silentFor = 8 * time.Second

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
	line lines.Line

	mu      sync.Mutex
	begin   time.Time
	last    time.Time
	reader  core.Reader
	samples []core.Sample
}

// NewClient follows an address once it runs.
func NewClient(addr string) *Client {
	return &Client{line: lines.Line{Addr: addr, Who: "the instruments", Silent: silentFor,
		SilentWords: "nothing came for eight seconds"}}
}

// Addr is where the instruments are.
func (c *Client) Addr() string { return c.line.Addr }

// Run reads until ctx is done.
func (c *Client) Run(ctx context.Context) {
	c.mu.Lock()
	c.begin = time.Now()
	c.mu.Unlock()
	c.line.Run(ctx, func() {}, func(line string) error {
		c.take(line, time.Now())
		return nil
	})
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
	connected, trouble := c.line.State()
	c.mu.Lock()
	out := State{Connected: connected, Trouble: trouble, Count: c.reader.Count, Samples: append([]core.Sample{},
		c.samples...)}
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
