// Package live counts turning shafts from what senses them: marks that pass a sensor,
// or an angle that is told again and again. It gives turns with bounds that hold, and
// where several shafts of one machine were watched, the ratio between them.
//
// Several sources of one machine share a clock. What is missed, doubled or late on one
// shaft shows against another, because gears don't slip: the input's turns over the
// mean of the wheels' is one number all the time.
package live

import (
	"fmt"
	"math"
	"sort"
	"strings"

	"zorvel/core/fault"
)

// Shaft is what a source watches.
type Shaft string

// The shafts of a machine that is turned: the input (driveshaft, pinion flange) and
// either the two wheels of an axle or the one output of any other part.
const (
	Input  Shaft = "shaft"
	Left   Shaft = "left"
	Right  Shaft = "right"
	Output Shaft = "output"
)

// Source is what one sensor gave of one shaft, in one of three forms: marks that
// passed, an angle, or a phone's motion.
type Source struct {
	Shaft Shaft `json:"shaft"`
	// Marks are how many marks a turn pass the sensor, evenly placed, for pulses.
	Marks int `json:"marks,omitempty"`
	// Times of pulses or angles, in seconds, never falling.
	Times []float64 `json:"times,omitempty"`
	// Ways are each pulse's direction, +1 or −1, where the sensor tells it.
	Ways []int `json:"ways,omitempty"`
	// Degrees is the angle at each time; Wrapped says that it begins again at 0 after 360.
	Degrees []float64 `json:"degrees,omitempty"`
	Wrapped bool      `json:"wrapped,omitempty"`
	// Sure is the angle's standard deviation in degrees; 1 if left out.
	Sure float64 `json:"sure,omitempty"`
	// Motion is a phone's gyroscope and accelerometer.
	Motion []Motion `json:"motion,omitempty"`
	// Alive is how long the source is known to have worked, in seconds; 0 where only
	// its pulses tell.
	Alive float64 `json:"alive,omitempty"`
	// Clock names the clock of its times: sources of one clock share its name.
	Clock string `json:"clock,omitempty"`
}

// Does is what a wheel without a sensor does.
type Does string

// What it may do.
const (
	Held Does = "held" // it stands still
	With Does = "with" // it turns with the other wheel
)

// Other is the wheel that has no sensor: what it does, and whether somebody watches it.
type Other struct {
	Does Does `json:"does"`
	Seen bool `json:"seen"`
}

// Outputs says what a removed part's outputs did, as in identify.
type Outputs string

// The ways.
const (
	Single  Outputs = "single"
	Joined  Outputs = "joined"
	OneHeld Outputs = "one_held"
)

// Recording is all that was sensed at one machine, on one clock.
type Recording struct {
	Sources []Source `json:"sources"`
	// Other is the wheel that no source watches, where one wheel is.
	Other *Other `json:"other,omitempty"`
	// HeldWheels are wheels with a sensor that somebody holds still and watches.
	HeldWheels []Shaft `json:"held_wheels,omitempty"`
	// OneWay is that somebody watched, and nobody turned back.
	OneWay bool `json:"one_way,omitempty"`
	// Outputs of a removed part whose one output is watched.
	Outputs Outputs `json:"outputs,omitempty"`
}

// Bounds of a recording.
const (
	MostSources = 4
	MostPoints  = 200_000 // of all sources together
	MostMarks   = 360
	mostSeconds = 1e9
	mostDegrees = 1e8
)

// check refuses what no sensor gives. Errors are fault.Errors.
func (r Recording) check() error {
	var odd fault.Errors
	if len(r.Sources) == 0 {
		odd.Add("sources", "add what at least one sensor gave")
	}
	if len(r.Sources) > MostSources {
		odd.Add("sources", "at most %d sources: one for each shaft", MostSources)
		return odd
	}
	points, seen := 0, map[Shaft]bool{}
	for i, s := range r.Sources {
		at := fmt.Sprintf("sources/%d", i)
		if seen[s.Shaft] {
			odd.Add(at+"/shaft", "another source already watches this shaft: keep one of them")
		}
		seen[s.Shaft] = true
		points += len(s.Times) + len(s.Motion)
		if err := s.check(at); err != nil {
			odd = append(odd, err)
		}
	}
	if points > MostPoints {
		odd.Add("sources", "%d points are more than can be weighed at once: at most %d", points, MostPoints)
	}
	if seen[Output] && (seen[Left] || seen[Right]) {
		odd.Add("sources", "watch either the wheels (left, right) or the one output, not both")
	}
	if x := r.Other; x != nil && x.Does != Held && x.Does != With {
		odd.Add("other/does", "say what the wheel without a sensor does: held, or with (it turns with the other)")
	}
	if err := r.checkOutputs(); err != nil {
		odd = append(odd, err)
	}
	for i, s := range r.HeldWheels {
		if s != Left && s != Right {
			odd.Add(fmt.Sprintf("held_wheels/%d", i), "only a wheel can be held: left or right")
		}
	}
	return odd.Err()
}

func (r Recording) checkOutputs() *fault.Error {
	switch r.Outputs {
	case "", Single, Joined, OneHeld:
		return nil
	}
	return fault.New("outputs", "say what the outputs did: single, joined or one_held")
}

// Check refuses a source that can't be weighed. Errors are *fault.Error with the field's
// path within the source.
func (s Source) Check() error {
	if err := s.check(""); err != nil {
		return fault.New(strings.TrimPrefix(err.Field, "/"), "%s", err.Message)
	}
	return nil
}

// check is nil where a source can be weighed.
func (s Source) check(at string) *fault.Error {
	switch s.Shaft {
	case Input, Left, Right, Output:
	default:
		return fault.New(at+"/shaft", "say which shaft it watches: shaft, left, right or output")
	}
	if len(s.Motion) > 0 {
		if len(s.Times) > 0 || s.Marks > 0 {
			return fault.New(at+"/motion", "a source gives either motion or marks and angles")
		}
		return s.checkMotion(at + "/motion")
	}
	if len(s.Clock) > 40 {
		return fault.New(at+"/clock", "a clock's name has at most 40 letters")
	}
	if !(s.Alive >= 0 && s.Alive <= mostSeconds) {
		return fault.New(at+"/alive", "how long the sensor worked is a number of seconds, 0 or more")
	}
	if len(s.Degrees) > 0 {
		return s.checkAngle(at)
	}
	if s.Marks < 1 || s.Marks > MostMarks {
		return fault.New(at+"/marks", "say how many marks a turn pass the sensor: 1 to %d", MostMarks)
	}
	if len(s.Ways) > 0 && len(s.Ways) != len(s.Times) {
		return fault.New(at+"/ways", "%d directions for %d pulses: give one for each, or none", len(s.Ways),
			len(s.Times))
	}
	for i, w := range s.Ways {
		if w != 1 && w != -1 {
			return fault.New(fmt.Sprintf("%s/ways/%d", at, i), "a direction is 1 or -1")
		}
	}
	return checkTimes(s.Times, at+"/times")
}

func (s Source) checkAngle(at string) *fault.Error {
	if s.Marks > 0 || len(s.Ways) > 0 {
		return fault.New(at+"/degrees", "a source gives either marks or degrees, not both")
	}
	if len(s.Degrees) != len(s.Times) {
		return fault.New(at+"/degrees", "%d angles for %d times: give one for each", len(s.Degrees), len(s.Times))
	}
	if !(s.Sure >= 0 && s.Sure <= 90) {
		return fault.New(at+"/sure", "how sure the angle is, as a standard deviation: 0 to 90 degrees")
	}
	for i, d := range s.Degrees {
		if !(math.Abs(d) <= mostDegrees) {
			return fault.New(fmt.Sprintf("%s/degrees/%d", at, i), "an angle is a number of degrees")
		}
		if s.Wrapped && (d < -360 || d > 360) {
			return fault.New(fmt.Sprintf("%s/degrees/%d", at, i),
				"a wrapped angle is within 360 degrees; leave wrapped out where it counts on")
		}
	}
	return checkTimes(s.Times, at+"/times")
}

func checkTimes(times []float64, at string) *fault.Error {
	for i, t := range times {
		if !(math.Abs(t) <= mostSeconds) {
			return fault.New(fmt.Sprintf("%s/%d", at, i), "a time is a number of seconds")
		}
		if i > 0 && t < times[i-1] {
			return fault.New(fmt.Sprintf("%s/%d", at, i), "times must not fall: %g s comes after %g s", t, times[i-1])
		}
	}
	return nil
}

// Until is what of a source had come by a time.
func (s Source) Until(end float64) Source {
	n := sort.SearchFloat64s(s.Times, math.Nextafter(end, math.Inf(1)))
	s.Times = s.Times[:n:n]
	if len(s.Ways) > 0 {
		s.Ways = s.Ways[:n:n]
	}
	if len(s.Degrees) > 0 {
		s.Degrees = s.Degrees[:n:n]
	}
	k := sort.Search(len(s.Motion), func(i int) bool { return s.Motion[i].At > end })
	s.Motion = s.Motion[:k:k]
	s.Alive = min(s.Alive, max(end, 0))
	return s
}
