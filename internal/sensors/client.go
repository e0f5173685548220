package sensors

import (
	"bufio"
	"context"
	"errors"
	"io"
	"net"
	"os"
	"slices"
	"sync"
	"time"
)

// Patience with the line: to connect, and between two lines; the device sends at least a
// # once a second.
const (
	connectWithin = 3 * time.Second
	silentFor     = 5 * time.Second
	retryAfter    = 500 * time.Millisecond
)

// mostASecond pulses are taken; a line that sends more is flooding.
const mostASecond = 4000

// Client follows the sensors' address and finds it again by itself.
type Client struct {
	Addr string

	mu        sync.Mutex
	connected bool
	trouble   string
	heard     map[int]time.Time
	waiting   []Pulse
	epoch     int // grows with each connection: the device's clock may have begun again
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
	for ctx.Err() == nil {
		err := c.follow(ctx)
		c.mu.Lock()
		c.connected, c.trouble = false, words(err)
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
	c.connected, c.trouble, c.waiting = true, "", nil
	c.epoch++
	c.heard = map[int]time.Time{}
	c.mu.Unlock()
	in := bufio.NewReaderSize(conn, 4096)
	second, count := time.Now(), 0
	for {
		if err := conn.SetReadDeadline(time.Now().Add(silentFor)); err != nil {
			return err
		}
		line, err := in.ReadSlice('\n')
		if errors.Is(err, bufio.ErrBufferFull) { // a line that never ends is cut, not gathered
			continue
		}
		if err != nil {
			return err
		}
		p, ok, _ := ParseLine(string(line))
		if !ok {
			continue
		}
		now := time.Now()
		if now.Sub(second) > time.Second {
			second, count = now, 0
		}
		if count++; count > mostASecond {
			return errFlood
		}
		c.take(p, now)
	}
}

var errFlood = errors.New("more pulses than shafts can make")

// mostWaiting pulses are held until they are asked for; the oldest make room.
const mostWaiting = 20000

func (c *Client) take(p Pulse, now time.Time) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if n := len(c.waiting); n > 0 && p.Micros+1e6 < c.waiting[n-1].Micros {
		c.epoch++ // its clock began again without the line breaking
		c.waiting = nil
	}
	if len(c.waiting) == mostWaiting {
		c.waiting = slices.Delete(c.waiting, 0, mostWaiting/2)
	}
	c.waiting = append(c.waiting, p)
	c.heard[p.Channel] = now
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
	c.mu.Lock()
	defer c.mu.Unlock()
	l := Line{Connected: c.connected, Trouble: c.trouble, Channels: []int{}}
	for ch, at := range c.heard {
		if time.Since(at) < heardWithin {
			l.Channels = append(l.Channels, ch)
		}
	}
	slices.Sort(l.Channels)
	return l
}

// words says why the line is down.
func words(err error) string {
	var op *net.OpError
	switch {
	case errors.Is(err, os.ErrDeadlineExceeded):
		return "nothing came for five seconds"
	case errors.Is(err, io.EOF):
		return "the sensors closed the line"
	case errors.Is(err, errFlood):
		return errFlood.Error()
	case errors.As(err, &op) && op.Op == "dial":
		return "nothing answers at this address"
	case err == nil:
		return ""
	}
	return "the line broke"
}
