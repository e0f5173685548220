package instruments

import (
	"fmt"
	"math"
	"math/rand/v2"
	"net"
	"time"

	core "zorvel/core/instruments"
	"zorvel/internal/standin"
)

// Boat is what the simulated instruments are on.
type Boat struct {
	Ratio, PitchIN, Slip float64
	// Plan is the engine's rpm over time, repeated: seconds at each.
	Plan []Leg
}

// Leg is a setting of the throttle and how long it is held.
type Leg struct {
	RPM     float64
	Seconds float64
}

// Skiff is the boat that the stand-in is on if nothing else is said.
func Skiff() Boat {
	return Boat{Ratio: 27.0 / 13, PitchIN: 11, Slip: 0.14, Plan: []Leg{{800, 6}, {3200, 20}, {4600, 40}, {5500, 15}, {4600, 40}}}
}

// StandIn speaks NMEA 0183 over TCP: RMC and VTG of a satellite receiver, RPM
// of the engine, with noise, dropouts, wrong checksums and a second talker that
// reads another speed.
type StandIn struct {
	*standin.Server
	boat  Boat
	began time.Time
}

// Start listens on an address, "127.0.0.1:0" for any free port.
func Start(addr string, boat Boat) (*StandIn, error) {
	s := &StandIn{boat: boat, began: time.Now()}
	var err error
	s.Server, err = standin.Listen(addr, s.speak)
	return s, err
}

// speak sends five sentences a second until the line ends.
func (s *StandIn) speak(c net.Conn) {
	r := rand.New(rand.NewPCG(uint64(time.Now().UnixNano()), 7))
	tick := time.NewTicker(200 * time.Millisecond)
	defer tick.Stop()
	for n := 0; ; n++ {
		now := <-tick.C
		rpm, kn := s.boat.at(now.Sub(s.began).Seconds())
		rpm += 12 * r.NormFloat64()
		kn = math.Max(0, kn+0.12*r.NormFloat64())
		day := now.UTC()
		var list []string
		list = append(list, fmt.Sprintf("IIRPM,E,1,%.0f,,A", math.Max(0, rpm)))
		switch n % 5 {
		case 0:
			list = append(list, fmt.Sprintf("GPRMC,%s,A,6208.100,N,00702.300,W,%.2f,084.0,%s,,", day.Format("150405.00"), kn, day.Format("020106")))
		case 2:
			list = append(list, fmt.Sprintf("GPVTG,084.0,T,,M,%.2f,N,%.2f,K,A", kn, kn*1.852))
		case 3: // the second receiver, on the cabin roof, reads low
			list = append(list, fmt.Sprintf("GNVTG,084.0,T,,M,%.2f,N,%.2f,K,A", 0.9*kn, 0.9*kn*1.852))
		case 4:
			list = append(list, "IIDBT,31.2,f,9.5,M,5.2,F")
		}
		for _, body := range list {
			sum := core.Checksum(body)
			switch {
			case r.Float64() < 0.02: // lost on the wire
				continue
			case r.Float64() < 0.02: // a bit turned over
				sum ^= 1
			}
			if c.SetWriteDeadline(now.Add(2*time.Second)) != nil {
				return
			}
			if _, err := fmt.Fprintf(c, "$%s*%02X\r\n", body, sum); err != nil {
				return
			}
		}
	}
}

// at is rpm and knots at a moment, the throttle moved over two seconds.
func (b Boat) at(t float64) (rpm, kn float64) {
	whole := 0.0
	for _, l := range b.Plan {
		whole += l.Seconds
	}
	t = math.Mod(t, whole)
	before := b.Plan[len(b.Plan)-1].RPM
	for _, l := range b.Plan {
		if t < l.Seconds {
			k := math.Min(1, t/2)
			rpm = before + k*(l.RPM-before)
			break
		}
		t -= l.Seconds
		before = l.RPM
	}
	return rpm, rpm / b.Ratio * b.PitchIN * 60 / 72913.4 * (1 - b.Slip)
}
