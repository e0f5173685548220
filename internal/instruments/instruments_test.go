package instruments

import (
	"context"
	"math"
	"net"
	"strings"
	"testing"
	"time"
)

func until(t *testing.T, what string, ok func() bool) {
	t.Helper()
	for range 200 {
		if ok() {
			return
		}
		time.Sleep(50 * time.Millisecond)
	}
	t.Fatalf("waited in vain for %s", what)
}

// The stream arrives, is lost when the instruments go, and is found again by
// itself; a second talker and wrong checksums never reach the figures.
func TestLostAndFoundAgain(t *testing.T) {
	boat := Skiff()
	boat.Plan = []Leg{{4600, 600}}
	s, err := Start("127.0.0.1:0", boat)
	if err != nil {
		t.Fatal(err)
	}
	addr := s.Addr()
	ctx, cancel := context.WithCancel(t.Context())
	defer cancel()
	c := NewClient(addr)
	go c.Run(ctx)
	want := 4600 / boat.Ratio * boat.PitchIN * 60 / 72913.4 * (1 - boat.Slip)
	until(t, "figures", func() bool { x := c.State(); return x.Connected && x.Now.HasRPM && x.Now.HasKN })
	if x := c.State().Now; math.Abs(x.RPM-4600) > 80 || math.Abs(x.SpeedKN-want) > 1 {
		t.Errorf("%+v, expected about 4600 rpm and %.1f kn", x, want)
	}
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	until(t, "the loss to be told", func() bool { return !c.State().Connected && c.State().Trouble != "" })
	if s, err = Start(addr, boat); err != nil {
		t.Fatal(err)
	}
	defer func() { _ = s.Close() }()
	before := c.State().Count.Read
	until(t, "the stream to be found again", func() bool { x := c.State(); return x.Connected && x.Count.Read > before })
}

// Whoever sends a line without an end, or rubbish, is left with it.
func TestRubbishOnTheLine(t *testing.T) {
	lis, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = lis.Close() }()
	go func() {
		conn, err := lis.Accept()
		if err != nil {
			return
		}
		_, _ = conn.Write([]byte(strings.Repeat("$", 200_000) + "\n\x00\xff*\n"))
		_ = conn.Close()
	}()
	ctx, cancel := context.WithCancel(t.Context())
	defer cancel()
	c := NewClient(lis.Addr().String())
	go c.Run(ctx)
	until(t, "the rubbish to be counted", func() bool { return c.State().Count.Broken > 0 })
	if x := c.State(); x.Now.HasRPM || x.Now.HasKN {
		t.Errorf("%+v", x)
	}
}
