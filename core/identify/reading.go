package identify

import (
	"cmp"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"zorvel/core/fault"
)

// Error is input that can't be true or can't be understood. Its Field is a
// path within the input ("teeth/ring", "turns/shaft/whole").
type Error = fault.Error

// Method is how a reading was taken.
type Method string

// The methods, roughly in the order in which people try them.
const (
	Tag   Method = "tag"   // a tag on a cover bolt
	Stamp Method = "stamp" // stamped on the ring's edge or the pinion
	Teeth Method = "teeth" // counted, housing open
	Turns Method = "turns" // wheels and shaft turned on the vehicle
	Bench Method = "bench" // the part removed, input and output turned
	Road  Method = "road"  // engine speed at a steady road speed
)

// Methods lists all methods.
func Methods() []Method { return []Method{Tag, Stamp, Teeth, Turns, Bench, Road} }

// Reading is one piece of evidence. The field named by Method is filled; the
// others are empty.
type Reading struct {
	ID     string        `json:"id,omitempty"`
	Method Method        `json:"method"`
	Text   string        `json:"text,omitempty"` // Tag and Stamp: what it says, free text
	Teeth  Counts        `json:"teeth,omitempty"`
	Turns  *TurnsReading `json:"turns,omitempty"`
	Bench  *BenchReading `json:"bench,omitempty"`
	Road   *RoadReading  `json:"road,omitempty"`
}

// Count is a counted member: "ring", "pinion", "sun", "planet" (teeth of one
// planet), "planets" (how many) and so on.
type Count struct {
	Member string
	Count  int
}

// Counts are counted members. Their JSON is an object by member; read back, they
// stand in the order of a gear set, driven gear first, so that the same counts
// always read the same.
type Counts []Count

// MarshalJSON writes {"ring": 47, "pinion": 9}.
func (c Counts) MarshalJSON() ([]byte, error) {
	m := make(map[string]int, len(c))
	for _, x := range c {
		m[x.Member] = x.Count
	}
	return json.Marshal(m)
}

var memberOrder = map[string]int{"ring": 1, "gear": 1, "driven": 5, "pinion": 2, "sun": 3, "planet_ring": 4, "drive": 6, "input": 1, "counter": 2, "cluster": 3, "output": 4, "planet": 8, "planets": 9}

// UnmarshalJSON reads what MarshalJSON writes.
func (c *Counts) UnmarshalJSON(data []byte) error {
	var m map[string]int
	if err := json.Unmarshal(data, &m); err != nil {
		return err
	}
	*c = CountsOf(m)
	return nil
}

// CountsOf puts counts in the order of a gear set.
func CountsOf(m map[string]int) Counts {
	var c Counts
	for _, k := range slices.Sorted(maps.Keys(m)) {
		c = append(c, Count{k, m[k]})
	}
	slices.SortStableFunc(c, func(a, b Count) int { return cmp.Compare(memberOrder[a.Member], memberOrder[b.Member]) })
	return c
}

// Wheel is how far one wheel turned, in turns (forward positive). Seen says
// that it was watched or held by hand; otherwise it was only assumed.
type Wheel struct {
	Turns float64 `json:"turns"`
	Seen  bool    `json:"seen"`
}

// TurnsReading is the turns method on a vehicle.
type TurnsReading struct {
	Left  Wheel `json:"left"`
	Right Wheel `json:"right"`
	Shaft Shaft `json:"shaft"`
}

// BenchReading is a removed part turned by hand: output turns made, and the
// input turns that took.
type BenchReading struct {
	OutputTurns float64 `json:"output_turns"`
	Outputs     Outputs `json:"outputs,omitempty"`
	Shaft       Shaft   `json:"shaft"`
}

// Outputs says what the outputs of a removed part did.
type Outputs string

// Ways to treat the outputs. Through a differential, one output turning
// while the other is held takes half the input turns.
const (
	SingleOutput  Outputs = "single"
	JoinedOutputs Outputs = "joined"
	OneHeld       Outputs = "one_held"
)

// Shaft is how far the input shaft or flange turned: whole turns and a
// remainder past (or short of) the last whole turn. Words, if given, are
// parsed instead ("4 and a bit").
type Shaft struct {
	Whole     int       `json:"whole"`
	Remainder Remainder `json:"remainder,omitzero"`
	Words     string    `json:"words,omitempty"`
}

// RemainderBy is how the remainder was judged.
type RemainderBy string

// Ways to judge a remainder.
const (
	OnTheMark   RemainderBy = "none"    // the mark came back
	ByEye       RemainderBy = "eye"     // read to about a tenth
	BareQuarter RemainderBy = "quarter" // a bare quarter, half or three quarters
	ByArc       RemainderBy = "arc"     // measured along the rim
	// Said with a nudge: more than the round figure, or less, by little. These
	// are one-sided: "4 and a bit" is never short of 4.
	PastABit  RemainderBy = "just_past"
	ShortABit RemainderBy = "just_short"
)

// Remainder is the part of a turn beyond Whole, or short of it.
type Remainder struct {
	By       RemainderBy `json:"by"`
	Fraction float64     `json:"fraction,omitempty"` // of a turn, ByEye and BareQuarter
	ArcMM    float64     `json:"arc_mm,omitempty"`   // along the rim, ByArc
	RimMM    float64     `json:"rim_mm,omitempty"`   // the rim's measure, ByArc
	RimIs    RimIs       `json:"rim_is,omitempty"`
	Short    bool        `json:"short,omitempty"` // the shaft stopped short of Whole turns
}

// RimIs says which measure of the rim was taken.
type RimIs string

// The two measures of a rim.
const (
	Circumference RimIs = "circumference"
	Diameter      RimIs = "diameter"
)

// RoadReading is engine speed against road speed.
type RoadReading struct {
	RPM       float64   `json:"rpm"`
	SpeedKMH  float64   `json:"speed_kmh"`        // true speed
	RollingMM float64   `json:"rolling_mm"`       // rolling circumference of the driven tires
	Others    []float64 `json:"others,omitempty"` // ratios of all other stages between engine and wheel
	Converter Converter `json:"converter"`
}

// Converter is the state of what sits between engine and gearbox.
type Converter string

// Converter states.
const (
	Clutch          Converter = "clutch" // a clutch that doesn't slip
	ConverterLocked Converter = "locked"
	ConverterOpen   Converter = "open" // slipping, or not known to be locked
)

// Limits of what a person turns by hand. Above them something was typed wrong.
const (
	maxShaftTurns  = 500
	maxOutputTurns = 100
	minOutputTurns = 0.05
)

// fraction is the signed remainder in turns.
func (r Remainder) fraction() float64 {
	f := r.Fraction
	switch r.By {
	case OnTheMark:
		f = 0
	case ByArc:
		f = r.ArcMM / r.circumference()
	}
	if r.Short {
		return -f
	}
	return f
}

// circumference of the rim in mm.
func (r Remainder) circumference() float64 {
	if r.RimIs == Diameter {
		return math.Pi * r.RimMM
	}
	return r.RimMM
}

// turns is the total of the shaft, in turns.
func (s Shaft) turns() float64 { return float64(s.Whole) + s.Remainder.fraction() }

func (r Remainder) check(path string) error {
	switch r.By {
	case OnTheMark, "":
		return nil
	case ByEye, BareQuarter, PastABit, ShortABit:
		if !(r.Fraction >= 0 && r.Fraction < 1) {
			return fault.New(path+"/fraction", "the remainder is a part of one turn: from 0 to below 1")
		}
	case ByArc:
		if r.RimIs != Circumference && r.RimIs != Diameter {
			return fault.New(path+"/rim_is", "say whether the rim measure is its circumference or its diameter")
		}
		if !(r.RimMM >= 20 && r.RimMM <= 5000) {
			return fault.New(path+"/rim_mm", "the rim measure should be between 20 and 5000 mm")
		}
		if !(r.ArcMM >= 0) {
			return fault.New(path+"/arc_mm", "measure the arc from the mark along the rim: 0 mm or more")
		}
		if c := r.circumference(); r.ArcMM >= c {
			return fault.New(path+"/arc_mm", "an arc of %.0f mm is longer than the rim, which is %.0f mm around: count the whole turn and measure only what is left", r.ArcMM, c)
		}
	default:
		return fault.New(path+"/by", "judge the remainder as none, eye, quarter, arc, just_past or just_short")
	}
	return nil
}

// resolve parses Words if given and checks the shaft.
func (s Shaft) resolve(path string) (Shaft, error) {
	if strings.TrimSpace(s.Words) != "" {
		parsed, err := ParseShaft(s.Words)
		if err != nil {
			return s, fault.New(path+"/words", "%s", err.Error())
		}
		s = parsed
	}
	if s.Remainder.By == "" {
		s.Remainder.By = OnTheMark
	}
	if s.Whole < 0 {
		return s, fault.New(path+"/whole", "count whole turns from 0 up; direction doesn't matter")
	}
	if s.Whole > maxShaftTurns {
		return s, fault.New(path+"/whole", "%d turns can't have been counted by hand; at most %d", s.Whole, maxShaftTurns)
	}
	if err := s.Remainder.check(path + "/remainder"); err != nil {
		return s, err
	}
	if s.turns() <= 0 {
		return s, fault.New(path+"/whole", "the shaft must have turned: enter its whole turns and what was left over")
	}
	return s, nil
}

// resolve checks the reading against the stage and returns it with words
// parsed. Errors are *Error with the field at fault.
func (r Reading) resolve(s Stage, space *Space) (Reading, error) {
	var odd fault.Errors
	if errors.As(fault.Figures(r), &odd) {
		return r, odd[0]
	}
	switch r.Method {
	case Tag, Stamp:
		if _, err := ParseMark(r.Text, s); err != nil {
			return r, err
		}
	case Teeth:
		return r, space.checkTeeth(r.Teeth)
	case Turns:
		return r.resolveTurns(s)
	case Bench:
		if r.Bench == nil {
			return r, fault.New("bench", "enter the output turns and the input turns")
		}
		b := *r.Bench
		if !(b.OutputTurns >= minOutputTurns && b.OutputTurns <= maxOutputTurns) {
			return r, fault.New("bench/output_turns", "turn the output at least once, %d times at most, and enter its turns, for example 1", maxOutputTurns)
		}
		switch b.Outputs {
		case "":
			b.Outputs = SingleOutput
		case SingleOutput, JoinedOutputs, OneHeld:
		default:
			return r, fault.New("bench/outputs", "the outputs are single, joined or one_held")
		}
		shaft, err := b.Shaft.resolve("bench/shaft")
		if err != nil {
			return r, err
		}
		b.Shaft = shaft
		r.Bench = &b
	case Road:
		return r, r.Road.check()
	default:
		return r, fault.New("method", "%q is no method; choose one of %v", r.Method, Methods())
	}
	return r, nil
}

func (r Reading) resolveTurns(s Stage) (Reading, error) {
	if s.Kind != RingAndPinion && s.Kind != TwoStage {
		return r, fault.New("method", "two wheels are turned only at an axle; for this stage enter bench turns: output turns and input turns")
	}
	if r.Turns == nil {
		return r, fault.New("turns", "enter the turns of both wheels and of the shaft")
	}
	t := *r.Turns
	for _, w := range []struct {
		name string
		w    Wheel
	}{{"left", t.Left}, {"right", t.Right}} {
		if !(math.Abs(w.w.Turns) <= maxOutputTurns) {
			return r, fault.New("turns/"+w.name+"/turns", "wheel turns should be between -%d and %d", maxOutputTurns, maxOutputTurns)
		}
	}
	if m := t.mean(); math.Abs(m) < minOutputTurns {
		return r, fault.New("turns/left/turns", "together the wheels must turn: turn one while the other is held, or both the same way (turned opposite ways they cancel out and the shaft stands still)")
	}
	shaft, err := t.Shaft.resolve("turns/shaft")
	if err != nil {
		return r, err
	}
	t.Shaft = shaft
	r.Turns = &t
	return r, nil
}

// mean is the carrier's turns: an open differential averages its sides.
func (t TurnsReading) mean() float64 { return (t.Left.Turns + t.Right.Turns) / 2 }

func (r *RoadReading) check() error {
	if r == nil {
		return fault.New("road", "enter engine speed, road speed, tire and gear")
	}
	between := func(v, lo, hi float64) bool { return v >= lo && v <= hi }
	if !between(r.RPM, 300, 20000) {
		return fault.New("road/rpm", "engine speed should be between 300 and 20,000 rpm")
	}
	if !between(r.SpeedKMH, 5, 400) {
		return fault.New("road/speed_kmh", "steady road speed should be between 5 and 400 km/h")
	}
	if !between(r.RollingMM, 300, 8000) {
		return fault.New("road/rolling_mm", "rolling circumference should be between 300 and 8000 mm: mark the tire and the floor, roll one turn, measure")
	}
	if len(r.Others) > 8 {
		return fault.New("road/others", "at most 8 other ratios lie between engine and wheel")
	}
	for i, o := range r.Others {
		if !between(o, 0.1, 30) {
			return fault.New(fmt.Sprintf("road/others/%d", i), "a stage ratio should be between 0.1 and 30 (1 for a direct gear)")
		}
	}
	switch r.Converter {
	case Clutch, ConverterLocked, ConverterOpen:
		return nil
	}
	return fault.New("road/converter", "say clutch, locked or open (a slipping converter reads high)")
}

// other is the product of all other ratios.
func (r RoadReading) other() float64 {
	p := 1.0
	for _, o := range r.Others {
		p *= o
	}
	return p
}

// ratio is rpm ÷ wheel rpm ÷ other ratios.
func (r RoadReading) ratio() float64 {
	wheelRPM := r.SpeedKMH * 1e6 / 60 / r.RollingMM
	return r.RPM / wheelRPM / r.other()
}
