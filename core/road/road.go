// Package road reads gears out of a drive: engine speed against road speed.
//
// Engine speed over the wheels' speed is the overall ratio, one value for each gear as
// long as nothing slips: so a drive makes bunches. A converter under power lets the engine
// run ahead and smears a bunch upward from a tight lower edge, which is the gear; on
// overrun it smears downward. Samples at nearly constant speed that don't slow down are
// taken. From the gearbox's ratios and the tire follows the axle, or from the axle the
// gears; axle and tire together only ever show as their product.
package road

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"zorvel/core/fault"
)

// Sample is a moment of a drive.
type Sample struct {
	At       float64 `json:"at"` // s
	RPM      float64 `json:"rpm"`
	SpeedKMH float64 `json:"speed_kmh"`
}

// Between is what lies between engine and gearbox.
type Between string

// The kinds.
const (
	Clutch    Between = "clutch"
	Converter Between = "converter"
)

// From is where the road speed comes from.
type From string

// The sources.
const (
	Satellite From = "satellite" // true, late by about a second
	Wheels    From = "wheels"    // wheel turns, by the tire's size
	Needle    From = "needle"    // the vehicle's own: as true as its gears and tire
)

// Question is a drive, and what is known of the vehicle.
type Question struct {
	Samples   []Sample  `json:"samples,omitempty"`
	CSV       *string   `json:"csv,omitempty"` // seconds, rpm, speed_kmh
	RollingMM float64   `json:"rolling_mm"`
	Gears     []float64 `json:"gears,omitempty"` // the gearbox's ratios, first gear first
	Axle      *float64  `json:"axle,omitempty"`
	Other     *float64  `json:"other,omitempty"` // of a transfer case or hub between; 1 if left out
	Between   Between   `json:"between"`
	From      From      `json:"from"`
}

// Bounds of a drive.
const (
	MostSamples  = 100_000
	MostGears    = 20
	leastSpeed   = 8.0 // km/h
	leastRPM     = 500.0
	steadyWithin = 1.5 // km/h in a second
)

// Bunch is a gear as the drive shows it.
type Bunch struct {
	// Overall is engine turns a wheel turn, with its standard deviation; Low to High
	// holds nine in ten of its samples.
	Overall float64 `json:"overall"`
	Spread  float64 `json:"spread"`
	Low     float64 `json:"low"`
	High    float64 `json:"high"`
	Samples int     `json:"samples"`
	// Smeared is slip seen above the edge.
	Smeared bool `json:"smeared"`
	// Gear is which one it is, from 1; 0 where that isn't known. Ratio is the gear's.
	Gear  int      `json:"gear"`
	Ratio *float64 `json:"ratio,omitempty"`
}

// Axle is the axle's ratio that the bunches make.
type Axle struct {
	Ratio float64 `json:"ratio"`
	Low   float64 `json:"low"` // 95 %
	High  float64 `json:"high"`
	Gears int     `json:"gears"` // bunches that it rests on
}

// Reading is the drive as road figures for identify.
type Reading struct {
	RPM       float64 `json:"rpm"`
	SpeedKMH  float64 `json:"speed_kmh"`
	RollingMM float64 `json:"rolling_mm"`
	Gear      float64 `json:"gear"`
}

// Answer is what a drive tells.
type Answer struct {
	Bunches []Bunch `json:"bunches"`
	Axle    *Axle   `json:"axle,omitempty"`
	// RollingMM is the rolling circumference that fits, where axle and gears are known.
	RollingMM *float64 `json:"rolling_mm,omitempty"`
	Reading   *Reading `json:"reading,omitempty"`
	// Taken samples, of all; Lag by which road speed was late, in seconds.
	Taken    int      `json:"taken"`
	All      int      `json:"all"`
	Lag      float64  `json:"lag"`
	Points   []Point  `json:"points"` // some of those taken, for the picture
	Sentence string   `json:"sentence"`
	Notes    []string `json:"notes"`
	Origin   []string `json:"origin"`
}

// Point is a sample that was taken.
type Point struct {
	SpeedKMH float64 `json:"speed_kmh"`
	Overall  float64 `json:"overall"`
}

// Work answers a question. Errors are fault.Errors. It takes one pass over the samples for
// each lag that is tried.
func Work(q Question) (*Answer, error) {
	samples, err := q.read()
	if err != nil {
		return nil, err
	}
	a := &Answer{Bunches: []Bunch{}, Points: []Point{}, Notes: []string{}, Origin: []string{}, All: len(samples)}
	taken := q.align(samples, a)
	a.Taken = len(taken)
	a.thin(taken)
	if len(taken) < leastTaken {
		a.Sentence = fmt.Sprintf("Only %d of %d samples are at a steady speed under power. "+
			"Drive each gear for ten seconds at a steady speed.", len(taken), len(samples))
		return a, nil
	}
	a.Bunches = bunches(taken, q.Between)
	q.assign(a)
	q.tell(a)
	return a, nil
}

const leastTaken = 20

func (q Question) read() ([]Sample, error) {
	var odd fault.Errors
	samples := q.Samples
	if q.CSV != nil {
		if len(samples) > 0 {
			return nil, fault.New("csv", "send either a file or samples, not both")
		}
		var err error
		if samples, err = ReadCSV(*q.CSV); err != nil {
			return nil, fault.Under("csv", err)
		}
	}
	if len(samples) > MostSamples {
		odd.Add("samples", "%d samples are more than are looked at: at most %d", len(samples), MostSamples)
		return nil, odd
	}
	for i, s := range samples {
		at := fmt.Sprintf("samples/%d", i)
		switch {
		case !(math.Abs(s.At) <= 1e9) || i > 0 && s.At < samples[i-1].At:
			odd.Add(at+"/at", "times must not fall")
		case !(s.RPM >= 0 && s.RPM <= 30000):
			odd.Add(at+"/rpm", "engine speed is 0 to 30,000 rpm")
		case !(s.SpeedKMH >= 0 && s.SpeedKMH <= 500):
			odd.Add(at+"/speed_kmh", "road speed is 0 to 500 km/h")
		}
		if len(odd) > 0 {
			return nil, odd
		}
	}
	q.check(&odd)
	return samples, odd.Err()
}

func (q Question) check(odd *fault.Errors) {
	if !(q.RollingMM >= 300 && q.RollingMM <= 8000) {
		odd.Add("rolling_mm", "rolling circumference should be between 300 and 8000 mm: mark the tire and the floor, roll one turn, measure")
	}
	if len(q.Gears) > MostGears {
		odd.Add("gears", "at most %d gears", MostGears)
	}
	for i, g := range q.Gears {
		switch {
		case !(g >= 0.2 && g <= 30):
			odd.Add(fmt.Sprintf("gears/%d", i), "a gear's ratio is between 0.2 and 30, for example 3.5")
		case i > 0 && g >= q.Gears[i-1]:
			odd.Add(fmt.Sprintf("gears/%d", i), "list the gears from first up: each is numerically lower than the one before")
		}
	}
	if q.Axle != nil && !(*q.Axle >= 1 && *q.Axle <= 30) {
		odd.Add("axle", "an axle's ratio is between 1 and 30, for example 4.1")
	}
	if q.Other != nil && !(*q.Other >= 0.1 && *q.Other <= 10) {
		odd.Add("other", "the ratio between gearbox and axle is between 0.1 and 10; 1 where nothing reduces")
	}
	if q.Between != Clutch && q.Between != Converter {
		odd.Add("between", "say clutch or converter")
	}
	if q.From != Satellite && q.From != Wheels && q.From != Needle {
		odd.Add("from", "name the source of the road speed: satellite, wheels or needle")
	}
}

func (q Question) other() float64 {
	if q.Other == nil {
		return 1
	}
	return *q.Other
}

// align finds by how much road speed is late: the lag at which the bunches are tightest.
func (q Question) align(samples []Sample, a *Answer) []point {
	lags := []float64{0}
	if q.From == Satellite {
		lags = []float64{0, 0.25, 0.5, 0.75, 1, 1.25, 1.5, 1.75, 2}
	}
	var best []point
	most := -1.0
	for _, lag := range lags {
		list := q.take(samples, lag)
		if s := sharp(list); s > most*1.02 {
			best, most, a.Lag = list, s, lag
		}
	}
	return best
}

// point is a sample that was taken: the logarithm of the overall ratio.
type point struct{ log, speed float64 }

// take keeps the samples at a nearly constant speed that doesn't fall, with road speed
// from a lag later.
func (q Question) take(samples []Sample, lag float64) []point {
	var out []point
	later, ahead := 0, 0
	for i, s := range samples {
		for later < len(samples) && samples[later].At < s.At+lag {
			later++
		}
		for ahead < len(samples) && samples[ahead].At < s.At+lag+1 {
			ahead++
		}
		if later == len(samples) || ahead == len(samples) {
			break
		}
		v, next := samples[later], samples[ahead]
		change := (next.SpeedKMH - v.SpeedKMH) / max(next.At-v.At, 0.2)
		engine := 0.0
		if i > 0 && s.At > samples[i-1].At {
			engine = (s.RPM - samples[i-1].RPM) / (s.At - samples[i-1].At) / max(s.RPM, 1)
		}
		if v.SpeedKMH < leastSpeed || s.RPM < leastRPM || change > 2*steadyWithin || change < -steadyWithin/2 ||
			math.Abs(engine) > 0.15 {
			continue
		}
		overall := s.RPM * q.RollingMM * 60 / 1e6 / v.SpeedKMH
		out = append(out, point{math.Log(overall), v.SpeedKMH})
	}
	slices.SortFunc(out, func(a, b point) int { return cmp.Compare(a.log, b.log) })
	return out
}

// width of a bunch that is tight, in logarithms.
const width = 0.012

// sharp is how many of all pairs of neighbors stand close together.
func sharp(list []point) float64 {
	if len(list) < leastTaken {
		return 0
	}
	near, j := 0.0, 0
	for i := range list {
		for list[i].log-list[j].log > width {
			j++
		}
		near += float64(i - j)
	}
	return near / float64(len(list))
}

// mostPoints are shown.
const mostPoints = 1500

func (a *Answer) thin(list []point) {
	every := max(1, len(list)/mostPoints)
	for i := 0; i < len(list); i += every {
		a.Points = append(a.Points, Point{list[i].speed, math.Exp(list[i].log)})
	}
}
