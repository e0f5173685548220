package programmer

import (
	"bufio"
	"fmt"
	"net"
	"strconv"
	"strings"
	"sync"
	"time"

	"zorvel/internal/standin"
)

// Faults of the stand-in; they strike at the next write and then go away.
const (
	FaultNone       = "none"
	FaultTimeout    = "timeout"          // no answer to WRITE
	FaultDrop       = "drop"             // the line drops at COMMIT, before it is kept
	FaultAfterWrite = "drop_after_write" // the line drops at COMMIT, after it is kept
	FaultBusy       = "busy"             // WRITE is refused
)

// StandIn is a simulated device that holds one calibration.
type StandIn struct {
	From, To float64
	// Hang is how long a timeout lasts; 10 s if zero.
	Hang time.Duration

	mu    sync.Mutex
	value float64
	fault string
	*standin.Server
}

// Start listens on an address, "127.0.0.1:0" for any free port, with a value
// in pulses per kilometer.
func Start(addr string, value float64) (*StandIn, error) {
	s := &StandIn{From: 500, To: 60_000, value: value, fault: FaultNone}
	var err error
	s.Server, err = standin.Listen(addr, s.talk)
	return s, err
}

// Value is the calibration that is in it.
func (s *StandIn) Value() float64 {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.value
}

// strike takes the fault that waits, if it is one of these.
func (s *StandIn) strike(faults ...string) string {
	s.mu.Lock()
	defer s.mu.Unlock()
	for _, f := range faults {
		if s.fault == f {
			s.fault = FaultNone
			return f
		}
	}
	return ""
}

func (s *StandIn) talk(c net.Conn) {
	say := func(format string, args ...any) bool {
		_ = c.SetWriteDeadline(time.Now().Add(5 * time.Second))
		_, err := fmt.Fprintf(c, format+"\n", args...)
		return err == nil
	}
	if !say(Greeting + " stand-in") {
		return
	}
	in := bufio.NewReaderSize(c, maxLine+1)
	var held *float64
	for {
		_ = c.SetReadDeadline(time.Now().Add(time.Minute))
		line, err := in.ReadSlice('\n')
		if err != nil {
			return
		}
		f := strings.Fields(string(line))
		if len(f) == 0 {
			f = []string{""}
		}
		ok := true
		switch cmd := strings.ToUpper(f[0]); {
		case cmd == "BYE":
			return
		case cmd == "READ" && len(f) == 1:
			ok = say("VALUE %s", number(s.Value()))
		case cmd == "RANGE" && len(f) == 1:
			ok = say("RANGE %s %s", number(s.From), number(s.To))
		case cmd == "WRITE" && len(f) == 2:
			v, refused := s.write(f[1])
			switch {
			case refused == FaultTimeout:
				hang := s.Hang
				if hang == 0 {
					hang = 10 * time.Second
				}
				// Silent, but the line stands until the other side goes.
				_ = c.SetReadDeadline(time.Now().Add(hang))
				_, _ = in.ReadByte()
				return
			case refused != "":
				ok = say("REFUSED %s", refused)
			default:
				held = &v
				ok = say("HELD %s", number(v))
			}
		case cmd == "COMMIT" && len(f) == 2:
			v, err := strconv.ParseFloat(f[1], 64)
			if err != nil || held == nil || v != *held {
				ok = say("REFUSED nothing held")
				break
			}
			switch s.strike(FaultDrop, FaultAfterWrite) {
			case FaultDrop:
				return
			case FaultAfterWrite:
				s.keep(v)
				return
			}
			s.keep(v)
			held = nil
			ok = say("DONE %s", number(v))
		case cmd == "FAIL" && len(f) == 2:
			ok = say(s.fail(f[1]))
		default:
			ok = say("REFUSED unknown")
		}
		if !ok {
			return
		}
	}
}

// write reads a value that is to be held: refused says why not, "" for held.
func (s *StandIn) write(text string) (v float64, refused string) {
	v, err := strconv.ParseFloat(text, 64)
	switch {
	case err != nil:
		return 0, "syntax"
	case !(v >= s.From && v <= s.To):
		return 0, fmt.Sprintf("range %s %s", number(s.From), number(s.To))
	case s.strike(FaultBusy) != "":
		return 0, FaultBusy
	}
	return v, s.strike(FaultTimeout)
}

// fail sets what the next try will suffer.
func (s *StandIn) fail(fault string) string {
	switch fault {
	case FaultNone, FaultTimeout, FaultDrop, FaultAfterWrite, FaultBusy:
		s.mu.Lock()
		s.fault = fault
		s.mu.Unlock()
		return "OK"
	}
	return "REFUSED syntax"
}

func (s *StandIn) keep(v float64) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.value = v
}
