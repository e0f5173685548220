package programmer

import (
	"bufio"
	"fmt"
	"net"
	"strings"
	"testing"
	"time"
)

func start(t *testing.T) (*StandIn, Client) {
	t.Helper()
	s, err := Start("127.0.0.1:0", 16000)
	if err != nil {
		t.Fatal(err)
	}
	s.Hang = 2 * time.Second
	t.Cleanup(func() {
		if err := s.Close(); err != nil {
			t.Error(err)
		}
	})
	return s, Client{Addr: s.Addr(), Wait: 300 * time.Millisecond}
}

func TestReadAndWrite(t *testing.T) {
	s, c := start(t)
	st, err := c.State(t.Context())
	if err != nil || st.PulsesKM != 16000 || st.From != 500 || st.To != 60000 || !st.Simulated {
		t.Fatalf("%+v %v", st, err)
	}
	o := c.Calibrate(t.Context(), 15120.5)
	if !o.Written || *o.Before != 16000 || *o.After != 15120.5 || s.Value() != 15120.5 {
		t.Errorf("%+v", o)
	}
}

// Whatever fails, the old value stays known and what is in the device is told.
func TestFailures(t *testing.T) {
	for _, x := range []struct {
		fault   string
		value   float64
		written bool
		holds   float64
		says    []string
	}{
		{FaultBusy, 15000, false, 16000, []string{"busy", "still holds 16000"}},
		{FaultTimeout, 15000, false, 16000, []string{"took too long", "while writing", "still holds 16000"}},
		{FaultDrop, 15000, false, 16000, []string{"line dropped", "still holds 16000"}},
		{FaultAfterWrite, 15000, true, 15000, []string{"line dropped", "new value is there", "16000 before"}},
		{FaultNone, 90000, false, 16000, []string{"takes 500 to 60000", "still holds 16000"}},
	} {
		t.Run(x.fault+fmt.Sprint(x.value), func(t *testing.T) {
			s, c := start(t)
			if err := c.Simulate(t.Context(), x.fault); err != nil {
				t.Fatal(err)
			}
			o := c.Calibrate(t.Context(), x.value)
			if o.Written != x.written || o.Before == nil || *o.Before != 16000 || o.After == nil || *o.After != x.holds || s.Value() != x.holds {
				t.Errorf("%+v, device holds %v", o, s.Value())
			}
			for _, w := range x.says {
				if !strings.Contains(o.Text, w) {
					t.Errorf("%q lacks %q", o.Text, w)
				}
			}
			// The fault strikes once.
			if o := c.Calibrate(t.Context(), 14000); !o.Written {
				t.Errorf("the next write fails too: %s", o.Text)
			}
		})
	}
}

func TestNoDevice(t *testing.T) {
	s, err := Start("127.0.0.1:0", 16000)
	if err != nil {
		t.Fatal(err)
	}
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	o := Client{Addr: s.Addr(), Wait: time.Second}.Calibrate(t.Context(), 15000)
	if o.Written || o.Before != nil || !strings.Contains(o.Text, "can't be reached") || !strings.Contains(o.Text, "Nothing was written") {
		t.Errorf("%+v", o)
	}
}

// A device that talks otherwise, too much or not at all.
func TestStrangers(t *testing.T) {
	for name, talk := range map[string]func(net.Conn){
		"another greeting": func(c net.Conn) { _, _ = fmt.Fprintln(c, "HELLO") },
		"a long line":      func(c net.Conn) { _, _ = fmt.Fprintln(c, strings.Repeat("x", 5000)) },
		"silence":          func(c net.Conn) { _, _ = bufio.NewReader(c).ReadByte() },
		"nonsense values": func(c net.Conn) {
			_, _ = fmt.Fprintln(c, Greeting+" odd")
			in := bufio.NewScanner(c)
			for in.Scan() {
				_, _ = fmt.Fprintln(c, "VALUE many")
			}
		},
	} {
		lis, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			t.Fatal(err)
		}
		go func() {
			for {
				c, err := lis.Accept()
				if err != nil {
					return
				}
				go func() { talk(c); _ = c.Close() }()
			}
		}()
		c := Client{Addr: lis.Addr().String(), Wait: 200 * time.Millisecond}
		if _, err := c.State(t.Context()); err == nil {
			t.Errorf("%s is taken for a device", name)
		}
		if o := c.Calibrate(t.Context(), 15000); o.Written || o.Before != nil || o.Text == "" {
			t.Errorf("%s: %+v", name, o)
		}
		_ = lis.Close()
	}
}

// Spoken by hand, as the protocol's document tells it.
func TestLines(t *testing.T) {
	s, _ := start(t)
	conn, err := net.Dial("tcp", s.Addr())
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = conn.Close() }()
	in := bufio.NewReader(conn)
	_ = conn.SetDeadline(time.Now().Add(5 * time.Second))
	line, _ := in.ReadString('\n')
	if strings.TrimSpace(line) != Greeting+" stand-in" {
		t.Fatalf("%q", line)
	}
	for _, x := range [][2]string{
		{"READ", "VALUE 16000"}, {"read", "VALUE 16000"}, {"RANGE", "RANGE 500 60000"}, {"COMMIT 15000", "REFUSED nothing held"},
		{"WRITE 12", "REFUSED range 500 60000"}, {"WRITE NaN", "REFUSED range 500 60000"}, {"WRITE x", "REFUSED syntax"}, {"WRITE 15000", "HELD 15000"}, {"READ", "VALUE 16000"},
		{"COMMIT 14000", "REFUSED nothing held"}, {"COMMIT 15000", "DONE 15000"}, {"READ", "VALUE 15000"}, {"COMMIT 15000", "REFUSED nothing held"},
		{"DANCE", "REFUSED unknown"}, {"", "REFUSED unknown"}, {"FAIL often", "REFUSED syntax"},
	} {
		if _, err := fmt.Fprintln(conn, x[0]); err != nil {
			t.Fatal(err)
		}
		line, err := in.ReadString('\n')
		if err != nil || strings.TrimSpace(line) != x[1] {
			t.Errorf("%s is answered %q, %v; want %q", x[0], line, err, x[1])
		}
	}
}

// A device that doesn't do what it says is found out by reading back.
func TestDevicesThatLie(t *testing.T) {
	for name, x := range map[string]struct {
		held, kept string // what it answers to WRITE, and what READ says after COMMIT
		written    bool
		says       string
	}{
		"rounds":   {"15000", "16000", false, "the device holds 15000 instead of 15000.4"},
		"forgets":  {"15000.4", "16000", false, "still holds 16000"},
		"mistakes": {"15000.4", "11111", false, "now holds 11111 pulses per km; it was 16000. Write again"},
		"keeps":    {"15000.4", "15000.4", true, "Written and read back: 15000.4 pulses per km, 16000 before."},
	} {
		lis, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			t.Fatal(err)
		}
		value := make(chan string, 1)
		value <- "16000"
		go func() {
			for {
				c, err := lis.Accept()
				if err != nil {
					return
				}
				go func() {
					defer func() { _ = c.Close() }()
					_, _ = fmt.Fprintln(c, Greeting+" "+name)
					in := bufio.NewScanner(c)
					for in.Scan() {
						now := <-value
						switch f := strings.Fields(in.Text()); f[0] {
						case "READ":
							_, _ = fmt.Fprintln(c, "VALUE", now)
						case "RANGE":
							_, _ = fmt.Fprintln(c, "RANGE 1 99999")
						case "WRITE":
							_, _ = fmt.Fprintln(c, "HELD", x.held)
						case "COMMIT":
							now = x.kept
							_, _ = fmt.Fprintln(c, "DONE", f[1])
						}
						value <- now
					}
				}()
			}
		}()
		o := Client{Addr: lis.Addr().String(), Wait: time.Second}.Calibrate(t.Context(), 15000.4)
		if o.Written != x.written || o.Before == nil || *o.Before != 16000 || o.After == nil || !strings.Contains(o.Text, x.says) {
			t.Errorf("%s: %+v", name, o)
		}
		_ = lis.Close()
	}
}

// Several people at one device: each is told what is in it at the end of its
// own write, and the device holds one of the values.
func TestTwoAtOneDevice(t *testing.T) {
	s, c := start(t)
	c.Wait = 5 * time.Second
	out := make(chan Outcome)
	wanted := map[float64]bool{}
	for i := range 8 {
		v := 15000 + float64(i)
		wanted[v] = true
		go func() { out <- c.Calibrate(t.Context(), v) }()
	}
	for range 8 {
		o := <-out
		if o.Before == nil || o.After == nil || o.Text == "" {
			t.Errorf("%+v", o)
			continue
		}
		// Written means that its own value was read back.
		if o.Written && *o.After != o.Wanted {
			t.Errorf("%+v", o)
		}
	}
	if !wanted[s.Value()] {
		t.Errorf("the device holds %v", s.Value())
	}
}
