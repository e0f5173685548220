// Package sensors reads marks that pass shaft sensors, from a line over TCP that
// docs/sensors.md describes, and has a simulated set of sensors at a machine that a
// simulated person turns.
package sensors

import (
	"strconv"
	"strings"
)

// Channels of a line.
const MostChannels = 16

// Pulse is a mark that passed: which channel, when by the device's own clock, and which
// way where the sensor tells it (+1, −1; else 0).
type Pulse struct {
	Channel int
	Micros  int64
	Way     int
}

// ParseLine reads a line: channel, microseconds, and + or − where the direction is told.
// An empty line and one that begins with # say nothing; ok is false for those and for
// what can't be read, which broken tells.
func ParseLine(line string) (p Pulse, ok, broken bool) {
	line = strings.TrimSpace(line)
	if line == "" || strings.HasPrefix(line, "#") {
		return p, false, false
	}
	f := strings.Fields(line)
	if len(f) < 2 || len(f) > 3 {
		return p, false, true
	}
	channel, err := strconv.Atoi(f[0])
	if err != nil || channel < 0 || channel >= MostChannels {
		return p, false, true
	}
	micros, err := strconv.ParseInt(f[1], 10, 64)
	if err != nil || micros < 0 || micros > 1<<53 {
		return p, false, true
	}
	p = Pulse{Channel: channel, Micros: micros}
	if len(f) == 3 {
		switch f[2] {
		case "+":
			p.Way = 1
		case "-":
			p.Way = -1
		default:
			return Pulse{}, false, true
		}
	}
	return p, true, false
}
