// Package programmer talks to a calibration programmer over TCP, and holds a
// simulated one that stands in for it.
//
// The protocol is lines of ASCII, at most 200 bytes, each ended by a line
// feed; the device answers every command with one line. docs/programmer.md
// tells it whole.
package programmer

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"net"
	"strconv"
	"strings"
	"time"
)

// Greeting begins the line that a device sends when a connection opens.
const Greeting = "READY zorvel-programmer 1"

const maxLine = 200

// Client reaches a device.
type Client struct {
	Addr string
	// Wait bounds each answer; 3 s if zero.
	Wait time.Duration
}

// Refused is what the device would not do.
type Refused struct{ Why string }

func (r *Refused) Error() string { return "the device refused: " + r.Why }

// ErrLine is returned where the device answers in no way that is known.
var ErrLine = errors.New("the device answers, but not in this protocol")

type session struct {
	conn   net.Conn
	in     *bufio.Reader
	wait   time.Duration
	device string
}

func (c Client) dial(ctx context.Context) (*session, error) {
	wait := c.Wait
	if wait == 0 {
		wait = 3 * time.Second
	}
	d := net.Dialer{Timeout: wait}
	conn, err := d.DialContext(ctx, "tcp", c.Addr)
	if err != nil {
		return nil, err
	}
	s := &session{conn: conn, in: bufio.NewReaderSize(conn, maxLine+1), wait: wait}
	line, err := s.read()
	if err == nil && !strings.HasPrefix(line, Greeting) {
		err = ErrLine
	}
	if err != nil {
		_ = conn.Close()
		return nil, err
	}
	s.device = strings.TrimSpace(strings.TrimPrefix(line, Greeting))
	return s, nil
}

func (s *session) read() (string, error) {
	if err := s.conn.SetReadDeadline(time.Now().Add(s.wait)); err != nil {
		return "", err
	}
	line, err := s.in.ReadSlice('\n')
	if errors.Is(err, bufio.ErrBufferFull) {
		return "", ErrLine
	}
	return strings.TrimSpace(string(line)), err
}

// ask sends a command and reads the one line of its answer; want is the word
// that the answer begins with.
func (s *session) ask(want, format string, args ...any) ([]string, error) {
	if err := s.conn.SetWriteDeadline(time.Now().Add(s.wait)); err != nil {
		return nil, err
	}
	if _, err := fmt.Fprintf(s.conn, format+"\n", args...); err != nil {
		return nil, err
	}
	line, err := s.read()
	if err != nil {
		return nil, err
	}
	f := strings.Fields(line)
	switch {
	case len(f) > 0 && f[0] == "REFUSED":
		return nil, &Refused{strings.Join(f[1:], " ")}
	case len(f) == 0 || f[0] != want:
		return nil, ErrLine
	}
	return f[1:], nil
}

func (s *session) numbers(n int, want, format string, args ...any) ([]float64, error) {
	f, err := s.ask(want, format, args...)
	if err != nil {
		return nil, err
	}
	if len(f) != n {
		return nil, ErrLine
	}
	out := make([]float64, n)
	for i, x := range f {
		if out[i], err = strconv.ParseFloat(x, 64); err != nil {
			return nil, ErrLine
		}
	}
	return out, nil
}

func (s *session) close() {
	_, _ = io.WriteString(s.conn, "BYE\n")
	_ = s.conn.Close()
}

// State is what a device says of itself.
type State struct {
	Device    string
	PulsesKM  float64
	From, To  float64
	Simulated bool
}

// State reads the device.
func (c Client) State(ctx context.Context) (State, error) {
	s, err := c.dial(ctx)
	if err != nil {
		return State{}, err
	}
	defer s.close()
	out := State{Device: s.device, Simulated: strings.Contains(s.device, "stand-in")}
	r, err := s.numbers(2, "RANGE", "RANGE")
	if err != nil {
		return out, err
	}
	out.From, out.To = r[0], r[1]
	v, err := s.numbers(1, "VALUE", "READ")
	if err != nil {
		return out, err
	}
	out.PulsesKM = v[0]
	return out, nil
}

// Outcome is what became of a write.
type Outcome struct {
	Written bool
	Wanted  float64
	Before  *float64
	After   *float64 // as read back; nil where it could not be read
	Step    string   // where it failed
	Text    string
}

// Calibrate reads the old value, writes the new one, and reads it back. It
// never leaves the old value unknown without saying so: after a failure it
// connects once more to read what is in the device now.
func (c Client) Calibrate(ctx context.Context, pulses float64) Outcome {
	out := Outcome{Wanted: pulses}
	err := c.write(ctx, pulses, &out)
	if err == nil {
		out.Written = true
		out.Text = fmt.Sprintf("Written and read back: %s pulses per km, %s before.", number(*out.After), number(*out.Before))
		return out
	}
	out.Text = words(err, out.Step)
	if out.Before == nil {
		out.Text += " Nothing was written; the value in the device could not be read."
		return out
	}
	if out.Step == "" {
		return out
	}
	if st, err := c.State(ctx); err == nil {
		out.After = &st.PulsesKM
		switch st.PulsesKM {
		case *out.Before:
			out.Text += fmt.Sprintf(" Nothing changed: the device still holds %s pulses per km.", number(st.PulsesKM))
		case pulses:
			out.Written = true
			out.Text += fmt.Sprintf(" But the new value is there, as read back afterward: %s pulses per km, %s before.",
				number(pulses), number(*out.Before))
		default:
			out.Text += fmt.Sprintf(" The device now holds %s pulses per km; it was %s. Write again before driving.", number(st.PulsesKM), number(*out.Before))
		}
		return out
	}
	out.Text += fmt.Sprintf(" The device can't be read now. The value before was %s pulses per km: read it again before driving.", number(*out.Before))
	return out
}

func (c Client) write(ctx context.Context, pulses float64, out *Outcome) error {
	out.Step = "connect"
	s, err := c.dial(ctx)
	if err != nil {
		return err
	}
	defer s.close()
	out.Step = "read"
	v, err := s.numbers(1, "VALUE", "READ")
	if err != nil {
		return err
	}
	out.Before = &v[0]
	out.Step = "write"
	held, err := s.numbers(1, "HELD", "WRITE %s", number(pulses))
	if err != nil {
		return err
	}
	if held[0] != pulses {
		return fmt.Errorf("the device holds %s instead of %s", number(held[0]), number(pulses))
	}
	out.Step = "commit"
	if _, err := s.numbers(1, "DONE", "COMMIT %s", number(pulses)); err != nil {
		return err
	}
	out.Step = "read back"
	back, err := s.numbers(1, "VALUE", "READ")
	if err != nil {
		return err
	}
	out.After = &back[0]
	if back[0] != pulses {
		return fmt.Errorf("read back %s instead of %s", number(back[0]), number(pulses))
	}
	out.Step = ""
	return nil
}

// Simulate tells a stand-in how to fail at its next write.
func (c Client) Simulate(ctx context.Context, fault string) error {
	s, err := c.dial(ctx)
	if err != nil {
		return err
	}
	defer s.close()
	_, err = s.ask("OK", "FAIL %s", fault)
	return err
}

func number(f float64) string { return strconv.FormatFloat(f, 'f', -1, 64) }

// words says an error as a technician would want it.
func words(err error, step string) string {
	at := map[string]string{"connect": "while connecting", "read": "while reading the old value",
		"write": "while writing", "commit": "while the new value was being saved", "read back": "while reading back"}[step]
	var refused *Refused
	var net_ net.Error
	switch {
	case errors.As(err, &refused):
		f := strings.Fields(refused.Why)
		switch {
		case len(f) == 3 && f[0] == "range":
			return fmt.Sprintf("Refused: the device takes %s to %s pulses per km.", f[1], f[2])
		case len(f) > 0 && f[0] == "busy":
			return "Refused: the device is busy. Try again in a moment."
		}
		return "Refused " + at + ": " + refused.Why + "."
	case errors.As(err, &net_) && net_.Timeout():
		return "No answer " + at + ": the device took too long."
	case errors.Is(err, io.EOF), errors.Is(err, net.ErrClosed), errors.Is(err, io.ErrUnexpectedEOF):
		return "The line dropped " + at + "."
	case errors.Is(err, ErrLine):
		return "The device answered in an unknown way " + at + "."
	case step == "connect":
		return "The device can't be reached. Is it switched on and connected?"
	}
	return "It failed " + at + ": " + err.Error() + "."
}

// Trouble says why a device can't be used, in one sentence.
func Trouble(err error) string { return words(err, "connect") }
