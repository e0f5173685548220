package identify

import (
	"cmp"
	"encoding/json"
	"errors"
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
	Live  Method = "live"  // counted by sensors while turning
	Road  Method = "road"  // engine speed at a steady road speed
)

// techniques are all methods, roughly in the order in which people try them.
var techniques []*technique

func init() {
	techniques = []*technique{byTag(), byStamp(), byTeeth(), byTurns(), byBench(), byLive(), byRoad()}
}

// Methods lists all methods.
func Methods() []Method {
	out := make([]Method, len(techniques))
	for i, w := range techniques {
		out[i] = w.method
	}
	return out
}

// Reading is one piece of evidence. The field named by Method is filled; the
// others are empty.
type Reading struct {
	ID     string        `json:"id,omitempty"`
	Method Method        `json:"method"`
	Text   string        `json:"text,omitempty"` // Tag and Stamp: what it says, free text
	Teeth  Counts        `json:"teeth,omitempty"`
	Turns  *TurnsReading `json:"turns,omitempty"`
	Bench  *BenchReading `json:"bench,omitempty"`
	Live   *LiveReading  `json:"live,omitempty"`
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
	// Eye is how the one who judged judges, where he wants it reckoned with; ByEye only.
	Eye *Eye `json:"eye,omitempty"`
}

// Eye is how somebody judges a partial turn, as practice has shown, in turns.
type Eye struct {
	Bias   float64 `json:"bias"`   // what he reads too much on average
	Spread float64 `json:"spread"` // standard deviation
	Cards  int     `json:"cards"`  // that it was found by
}

// Bounds of an eye: nobody judges better than a hundredth, and who is off by more than a
// fifth has misread.
const (
	leastEye  = 0.01
	mostEye   = 0.25
	mostLean  = 0.2
	leastSeen = 8
)

func (e *Eye) check(path string, by RemainderBy) error {
	switch {
	case e == nil:
		return nil
	case by != ByEye:
		return fault.New(path, "your own eye counts only where the partial turn was judged by eye")
	case !(math.Abs(e.Bias) <= mostLean):
		return fault.New(path+"/bias", "from −%g to %g turn", mostLean, mostLean)
	case !(e.Spread >= leastEye && e.Spread <= mostEye):
		return fault.New(path+"/spread", "from %g to %g turn", leastEye, mostEye)
	case e.Cards < leastSeen:
		return fault.New(path+"/cards", "found by at least %d cards of practice", leastSeen)
	}
	return nil
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

// turns is the total of the shaft as it was read, in turns.
func (s Shaft) turns() float64 { return float64(s.Whole) + s.Remainder.fraction() }

// reckoned is that total with what the reader's own eye reads too much taken off; who
// stopped short judged what was missing.
func (s Shaft) reckoned() float64 {
	e := s.Remainder.Eye
	switch {
	case e == nil:
		return s.turns()
	case s.Remainder.Short:
		return s.turns() + e.Bias
	}
	return s.turns() - e.Bias
}

func (r Remainder) check(path string) error {
	if err := r.Eye.check(path+"/eye", r.By); err != nil {
		return err
	}
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
	w, ok := techniqueOf(r.Method)
	if !ok {
		return r, fault.New("method", "%q is no method; choose one of %v", r.Method, Methods())
	}
	return w.resolve(r, s, space)
}

// Turned is how far the shaft turned in all, in turns. Words must have been parsed.
func (s Shaft) Turned() float64 { return s.turns() }
