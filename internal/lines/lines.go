// Package lines follows a device that sends lines over TCP, and finds it again by itself.
package lines

import (
	"bufio"
	"context"
	"errors"
	"io"
	"net"
	"os"
	"sync"
	"time"
)

// Line is one address that is followed.
type Line struct {
	Addr string
	// Who sends, for words: "the sensors".
	Who string
	// Silent is how long nothing may come, and SilentWords say that nothing did.
	Silent      time.Duration
	SilentWords string

	mu        sync.Mutex
	connected bool
	trouble   string
}

// Patience: to connect, and before it is tried again.
const (
	connectWithin = 3 * time.Second
	retryAfter    = 500 * time.Millisecond
)

// Run follows until ctx is done: opened is called for each connection, take for each of
// its lines; one that is too long is cut, and given as an empty one. An error of take
// closes the connection, and is told as it reads.
func (l *Line) Run(ctx context.Context, opened func(), take func(line string) error) {
	l.set(false, "connecting")
	for ctx.Err() == nil {
		err := l.follow(ctx, opened, take)
		l.set(false, l.words(err))
		select {
		case <-ctx.Done():
		case <-time.After(retryAfter):
		}
	}
}

// State is whether it is connected, and why not.
func (l *Line) State() (connected bool, trouble string) {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.connected, l.trouble
}

func (l *Line) set(connected bool, trouble string) {
	l.mu.Lock()
	l.connected, l.trouble = connected, trouble
	l.mu.Unlock()
}

func (l *Line) follow(ctx context.Context, opened func(), take func(line string) error) error {
	d := net.Dialer{Timeout: connectWithin}
	conn, err := d.DialContext(ctx, "tcp", l.Addr)
	if err != nil {
		return err
	}
	defer func() { _ = conn.Close() }()
	stop := context.AfterFunc(ctx, func() { _ = conn.Close() })
	defer stop()
	opened()
	l.set(true, "")
	in := bufio.NewReaderSize(conn, 4096)
	for {
		if err := conn.SetReadDeadline(time.Now().Add(l.Silent)); err != nil {
			return err
		}
		line, err := in.ReadSlice('\n')
		switch {
		case errors.Is(err, bufio.ErrBufferFull): // a line that never ends is cut, not gathered
			line = nil
		case err != nil:
			return err
		}
		if err := take(string(line)); err != nil {
			return &refused{err}
		}
	}
}

// refused is an error that what was taken made.
type refused struct{ error }

// words says why the line is down.
func (l *Line) words(err error) string {
	var op *net.OpError
	var odd *refused
	switch {
	case errors.As(err, &odd):
		return odd.Error()
	case errors.Is(err, os.ErrDeadlineExceeded):
		return l.SilentWords
	case errors.Is(err, io.EOF):
		return l.Who + " closed the line"
	case errors.As(err, &op) && op.Op == "dial":
		return "nothing answers at this address"
	case err == nil:
		return ""
	}
	return "the line broke"
}
