package sensors

import (
	"context"
	"errors"
	"slices"
	"sync"
	"time"

	"zorvel/internal/lines"
)

// silentFor is how long the line may be quiet: the device sends at least a # once a second.
const silentFor = 5 * time.Second

// mostASecond pulses are taken; a line that sends more is flooding.
const mostASecond = 4000

// Client follows the sensors' address and finds it again by itself.
type Client struct {
	line lines.Line

	mu      sync.Mutex
	heard   map[int]time.Time
	waiting []Pulse
	epoch   int // grows with each connection: the device's clock may have begun again
	second  time.Time
	count   int // of pulses within it
}

// NewClient follows an address once it runs.
func NewClient(addr string) *Client {
	return &Client{line: lines.Line{Addr: addr, Who: "the sensors", Silent: silentFor,
		SilentWords: "no signal for five seconds"}}
}

// Line is how the line is.
type Line struct {
	Connected bool
	Trouble   string
	Channels  []int // heard from within the last seconds
}

// Batch is what came since it was asked for last, all by one clock of the device.
type Batch struct {
	Epoch  int
	Pulses []Pulse
	Taken  time.Time // when the last of them came
}

// Run reads until ctx is done.
func (c *Client) Run(ctx context.Context) {
	c.line.Run(ctx, func() {
		c.mu.Lock()
		defer c.mu.Unlock()
		c.waiting, c.heard = nil, map[int]time.Time{}
		c.epoch++
	}, func(line string) error {
		if p, ok, _ := ParseLine(line); ok {
			return c.take(p, time.Now())
		}
		return nil
	})
}

var errFlood = errors.New("more pulses than shafts can make")

// mostWaiting pulses are held until they are asked for; the oldest make room.
const mostWaiting = 20000

func (c *Client) take(p Pulse, now time.Time) error {
	c.mu.Lock()
	defer c.mu.Unlock()
	if now.Sub(c.second) > time.Second {
		c.second, c.count = now, 0
	}
	if c.count++; c.count > mostASecond {
		return errFlood
	}
	if n := len(c.waiting); n > 0 && p.Micros+1e6 < c.waiting[n-1].Micros {
		c.epoch++ // its clock began again without the line breaking
		c.waiting = nil
	}
	if len(c.waiting) == mostWaiting {
		c.waiting = slices.Delete(c.waiting, 0, mostWaiting/2)
	}
	c.waiting = append(c.waiting, p)
	c.heard[p.Channel] = now
	return nil
}

// Take returns what came since the last time.
func (c *Client) Take() Batch {
	c.mu.Lock()
	defer c.mu.Unlock()
	b := Batch{Epoch: c.epoch, Pulses: c.waiting, Taken: time.Now()}
	c.waiting = nil
	return b
}

// heardWithin is how long a channel is called heard from.
const heardWithin = 30 * time.Second

// Line tells how the line is.
func (c *Client) Line() Line {
	l := Line{Channels: []int{}}
	l.Connected, l.Trouble = c.line.State()
	c.mu.Lock()
	defer c.mu.Unlock()
	for ch, at := range c.heard {
		if time.Since(at) < heardWithin {
			l.Channels = append(l.Channels, ch)
		}
	}
	slices.Sort(l.Channels)
	return l
}
