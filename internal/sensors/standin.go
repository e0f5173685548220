package sensors

import (
	"fmt"
	"math/rand/v2"
	"net"
	"strings"
	"sync"
	"time"

	"zorvel/core/live"
	"zorvel/internal/standin"
)

// Van is the simulated person at the rescue van's rear axle: 47 over 9, both wheels off
// the ground, eight magnets on the flange and on each wheel, now and then a rest, and a turn
// back, now and then a mark that the sensor misses or sees twice.
func Van() live.Turning {
	return live.Turning{Ratio: 47.0 / 9, Wheels: live.BothTurn, Turns: 30, Speed: 0.4, Rests: true, Back: true,
		Lash:    0.02,
		InMarks: 8, OutMarks: 8, Directed: true, Uneven: 0.02, Jitter: 0.001, Missed: 0.001, Doubled: 0.002}
}

// Channels on which the stand-in tells.
var Channels = map[live.Shaft]int{live.Input: 1, live.Left: 2, live.Right: 3, live.Output: 2}

// StandIn turns a machine as a person does, over and over with pauses, and tells the marks
// to whoever listens.
type StandIn struct {
	*standin.Server
	turning live.Turning
	began   time.Time

	mu    sync.Mutex
	lines map[net.Conn]chan string
	over  chan struct{}
	once  sync.Once
	done  sync.WaitGroup
}

// pauseBetween two turnings.
const pauseBetween = 6 * time.Second

// stepEvery is how often the machine is turned on.
const stepEvery = 10 * time.Millisecond

// Start listens on an address, "127.0.0.1:0" for any free port.
func Start(addr string, turning live.Turning) (*StandIn, error) {
	s := &StandIn{turning: turning, began: time.Now(), lines: map[net.Conn]chan string{}, over: make(chan struct{})}
	var err error
	if s.Server, err = standin.Listen(addr, s.talk); err != nil {
		return nil, err
	}
	s.done.Go(s.turn)
	return s, nil
}

// Close stops it.
func (s *StandIn) Close() error {
	s.once.Do(func() { close(s.over) })
	err := s.Server.Close()
	s.done.Wait()
	return err
}

// talk sends the lines to one listener until it is gone.
func (s *StandIn) talk(c net.Conn) {
	lines := make(chan string, 1000)
	s.mu.Lock()
	s.lines[c] = lines
	s.mu.Unlock()
	defer func() {
		s.mu.Lock()
		delete(s.lines, c)
		s.mu.Unlock()
	}()
	alive := time.NewTicker(time.Second)
	defer alive.Stop()
	for {
		text := "# alive\n"
		select {
		case <-s.over:
			return
		case text = <-lines:
		case <-alive.C:
		}
		if c.SetWriteDeadline(time.Now().Add(2*time.Second)) != nil {
			return
		}
		if _, err := c.Write([]byte(text)); err != nil {
			return
		}
	}
}

// turn turns the machine in the time that it takes.
func (s *StandIn) turn() {
	for seed := uint64(1); ; seed++ {
		rng := rand.New(rand.NewPCG(seed, uint64(s.began.UnixNano())))
		player := live.NewPlayer(s.turning, rng)
		begin := time.Since(s.began)
		tick := time.NewTicker(stepEvery)
		for !player.Done() {
			select {
			case <-s.over:
				tick.Stop()
				return
			case <-tick.C:
			}
			for now := (time.Since(s.began) - begin).Seconds(); player.Now() < now; {
				s.tell(player.Step(), begin)
			}
		}
		tick.Stop()
		select {
		case <-s.over:
			return
		case <-time.After(pauseBetween):
		}
	}
}

func (s *StandIn) channel(of live.Shaft) int {
	if s.turning.SwapChannels {
		switch of {
		case live.Input:
			of = live.Left
		case live.Left:
			of = live.Input
		}
	}
	return Channels[of]
}

// tell sends what passed to everybody. A listener that is far behind is let go: a line with
// holes would look like missed marks.
func (s *StandIn) tell(passed []live.Passed, begin time.Duration) {
	if len(passed) == 0 {
		return
	}
	var text strings.Builder
	for _, p := range passed {
		way := ""
		if s.turning.Directed {
			way = map[int]string{1: " +", -1: " -"}[p.Way]
		}
		fmt.Fprintf(&text, "%d %d%s\n", s.channel(p.Shaft), begin.Microseconds()+int64(p.Time*1e6), way)
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	for c, lines := range s.lines {
		select {
		case lines <- text.String():
		default:
			_ = c.Close()
		}
	}
}
