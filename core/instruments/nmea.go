// Package instruments reads streams from instruments: sentences of NMEA 0183 (RMC,
// VTG, RPM) into rpm and speed over ground, and finds the steady runs in them.
package instruments

import (
	"math"
	"slices"
	"strconv"
	"strings"
	"unicode"
)

// Sample is what the instruments said at one moment; NaN is not used: has says
// which figures are there.
type Sample struct {
	At      float64 `json:"at"` // seconds since the stream began
	RPM     float64 `json:"rpm"`
	SpeedKN float64 `json:"speed_kn"`
	HasRPM  bool    `json:"has_rpm"`
	HasKN   bool    `json:"has_speed"`
	// Shaft is the propeller shaft's own rpm, which needs no ratio.
	Shaft    float64 `json:"shaft_rpm,omitempty"`
	HasShaft bool    `json:"has_shaft,omitempty"`
	// Astern: the engine or shaft is said to turn backward.
	Astern bool `json:"astern,omitempty"`
	// Engine is the number of the engine that RPM is of; the others of twins are
	// in Others.
	Engine int      `json:"engine,omitempty"`
	Others []Engine `json:"others,omitempty"`
}

// Engine is another engine's rpm.
type Engine struct {
	Number int     `json:"number"`
	RPM    float64 `json:"rpm"`
}

// Count tells what became of the sentences.
type Count struct {
	Read    int `json:"read"`    // good, and used
	Other   int `json:"other"`   // good, of another kind
	Broken  int `json:"broken"`  // wrong checksum, cut off, or not readable
	Void    int `json:"void"`    // good, but the receiver says that it has no fix
	Talkers int `json:"talkers"` // that spoke of speed
}

// Reader takes sentences one by one. The first talker of speed is kept to while
// it speaks; another one takes over after it has been silent for five seconds.
type Reader struct {
	Count Count
	now   Sample
	seen  map[string]bool
	kept  string
	last  float64 // when the kept talker spoke
}

// patience is how long a silent talker keeps its place, in seconds.
const patience = 5

// maxSentence is the longest that the standard allows, with some to spare.
const maxSentence = 120

// Take reads one line that arrived at a moment in seconds; used is whether it
// changed a figure.
func (r *Reader) Take(line string, at float64) (s Sample, used bool) {
	line = strings.TrimSpace(line)
	if line == "" {
		return r.now, false
	}
	fields, ok := sentence(line)
	if !ok {
		r.Count.Broken++
		return r.now, false
	}
	if line[0] == '!' || fields[0][0] == 'P' { // encapsulated, or a maker's own
		r.Count.Other++
		return r.now, false
	}
	talker, kind := split(fields[0])
	s = r.now
	s.At = at
	switch kind {
	case "RPM":
		if !r.turns(&s, fields) {
			return r.now, false
		}
	case "RMC", "VTG":
		v, good, void := speed(kind, fields)
		switch {
		case void:
			r.Count.Void++
			return r.now, false
		case !good || v < 0 || v > 200:
			r.Count.Broken++
			return r.now, false
		}
		if r.seen == nil {
			r.seen = map[string]bool{}
		}
		if len(r.seen) < 20 {
			r.seen[talker] = true
		}
		r.Count.Talkers = len(r.seen)
		if r.kept != "" && r.kept != talker && at-r.last < patience {
			r.Count.Other++
			return r.now, false
		}
		r.kept, r.last = talker, at
		s.SpeedKN, s.HasKN = v, true
	default:
		r.Count.Other++
		return r.now, false
	}
	r.Count.Read++
	r.now = s
	return s, true
}

// turns reads RPM: source (shaft or engine), number, revolutions per minute, negative
// astern, pitch, status. It reports whether a figure changed.
func (r *Reader) turns(s *Sample, fields []string) bool {
	v, good := number(fields, 3)
	switch {
	case len(fields) < 4 || !good || math.Abs(v) > 30000:
		r.Count.Broken++
		return false
	case len(fields) > 5 && fields[5] == "V":
		r.Count.Void++
		return false
	}
	n, err := strconv.Atoi(strings.TrimSpace(fields[2]))
	if err != nil || n < 0 || n > 99 {
		n = 0
	}
	switch fields[1] {
	case "S":
		s.Shaft, s.HasShaft, s.Astern = math.Abs(v), true, v < 0
	case "E", "":
		if !s.HasRPM {
			s.Engine = n
		}
		if n != s.Engine {
			others := slices.Clone(s.Others)
			i := slices.IndexFunc(others, func(e Engine) bool { return e.Number == n })
			switch {
			case i >= 0:
				others[i].RPM = math.Abs(v)
			case len(others) < mostEngines:
				others = append(others, Engine{n, math.Abs(v)})
			}
			s.Others = others
			break
		}
		s.RPM, s.HasRPM, s.Astern = math.Abs(v), true, v < 0
	default:
		r.Count.Other++
		return false
	}
	return true
}

// mostEngines bounds how many engines beside the first are told apart.
const mostEngines = 8

// sentence checks framing and checksum, and parts the fields.
func sentence(line string) ([]string, bool) {
	if len(line) > maxSentence || len(line) < 9 || line[0] != '$' && line[0] != '!' || strings.ContainsFunc(line, unicode.IsControl) {
		return nil, false
	}
	body, sum, ok := strings.Cut(line[1:], "*")
	if !ok || len(sum) != 2 {
		return nil, false
	}
	want, err := strconv.ParseUint(sum, 16, 8)
	if err != nil || Checksum(body) != byte(want) {
		return nil, false
	}
	return strings.Split(body, ","), true
}

// Checksum is the exclusive or of what stands between $ and *.
func Checksum(body string) byte {
	var c byte
	for i := range len(body) {
		c ^= body[i]
	}
	return c
}

// split parts the address into talker and kind: GPRMC is GP and RMC.
func split(address string) (talker, kind string) {
	if len(address) < 4 {
		return "", address
	}
	return address[:len(address)-3], address[len(address)-3:]
}

func number(f []string, i int) (float64, bool) {
	if i >= len(f) {
		return 0, false
	}
	v, err := strconv.ParseFloat(strings.TrimSpace(f[i]), 64)
	return v, err == nil && !math.IsNaN(v) && !math.IsInf(v, 0)
}

// speed reads the speed over ground in knots.
func speed(kind string, f []string) (v float64, good, void bool) {
	if kind == "RMC" { // time, status, latitude, N, longitude, E, knots
		if len(f) > 2 && f[2] == "V" || len(f) > 12 && f[12] == "N" {
			return 0, false, true
		}
		v, good = number(f, 7)
		return v, good, false
	}
	// VTG: track, T, track, M, knots, N, km/h, K, mode
	if len(f) > 9 && f[9] == "N" {
		return 0, false, true
	}
	if v, good = number(f, 5); good && len(f) > 6 && f[6] == "N" {
		return v, true, false
	}
	if v, good = number(f, 7); good && len(f) > 8 && f[8] == "K" {
		return v / 1.852, true, false
	}
	return 0, false, false
}
