package driveline

import (
	"slices"

	"zorvel/core/exact"
	"zorvel/core/fault"
)

// Traits are what a kind of part is like in a shop: how it lies, what a hand
// reaches of it, what of it breaks.
type Traits struct {
	// Axis is how its input lies where no part feeds it; empty where power
	// enters the driveline here.
	Axis Axis
	// End is what the driveline ends in here: EndWheel or EndPropeller.
	End string
	// Reach is how a hand gets at its outputs.
	Reach Reach
	// Ahead says that it sits ahead of all gears: engine, clutch.
	Ahead bool
	// Outboard says that it sits between an axle and its wheel.
	Outboard bool
	// OtherGears says that gears of another ratio go into it unseen.
	OtherGears bool
	// OutputSpline says that what it drives hangs on a spline at its output.
	OutputSpline bool
	// Bearings are its inner shafts that run in bearings of the housing.
	Bearings []string
	// PumpedByInput says that oil is pumped by its input, if it is pumped.
	PumpedByInput bool
	// Speedometer is the shaft behind which a speedometer usually sits, and how
	// strongly: the highest of a driveline has it.
	Speedometer string
	ForSpeedo   int
	// TakeOffs are shafts that a speedometer may be driven from, with words that
	// follow the part's name.
	TakeOffs [][2]string
}

// Reach is how a hand gets at the outputs of a part.
type Reach int

// How a hand gets at the outputs of a part.
const (
	AtFlange Reach = iota // where the next part lies open
	InTheOpen
	OutOfReach
)

// What a driveline ends in.
const (
	EndWheel     = "wheel"
	EndPropeller = "propeller"
	EndOpen      = "open" // an output with nothing on it
)

// Feature is something about a part that other rooms look for: signs are met
// at what has them, faults sit in what has them.
type Feature string

// Features of parts.
const (
	FinalDrive    Feature = "final drive" // ring and pinion with two sides
	Box           Feature = "box"         // gears chosen one at a time
	RoadWheel     Feature = "road wheel"
	DriveShaft    Feature = "drive shaft" // open, with joints
	LowerUnit     Feature = "lower unit"
	Blades        Feature = "blades"
	Pedal         Feature = "pedal"
	Geared        Feature = "geared"          // whines
	Cased         Feature = "cased"           // in oil of its own
	OutputSeals   Feature = "output seals"    // of its own, at its outputs
	Splined       Feature = "splined"         // with splines to what it drives
	DogsInside    Feature = "dogs"            // gears or a range that dogs choose
	ShiftedDogs   Feature = "sliding clutch"  // ahead, neutral, astern
	Plates        Feature = "plates"          // of a limited slip
	Chained       Feature = "chain"           // turns by a chain
	Joins         Feature = "joins"           // locks together what else turns by itself
	Actuated      Feature = "actuated"        // a lock or range that something moves
	MovedDogs     Feature = "moved dogs"      // whose dogs are moved from outside
	KeyedGears    Feature = "keyed gears"     // on a countershaft
	OneWayGears   Feature = "one-way gears"   // that must not go on the wrong way round
	OpenSides     Feature = "open sides"      // an open differential between two wheels
	StraightTeeth Feature = "straight teeth"  // whine by nature
	CrossedAxes   Feature = "centered pinion" // a bevel set whose axes meet
)

// Has reports whether a part has a feature.
func (p *Part) Has(f Feature) bool { return slices.Contains(p.made().has(p), f) }

// WithA lists the parts that have a feature, in the order of the document.
func (d *Document) WithA(f Feature) []*Part {
	var out []*Part
	for i := range d.Parts {
		if d.Parts[i].Has(f) {
			out = append(out, &d.Parts[i])
		}
	}
	return out
}

// Passed is what a part does between its input and its output.
type Passed struct {
	Ratio exact.Number
	Known bool
	Open  bool // nothing is passed on
}

// straight passes everything as it comes.
var straight = Passed{Ratio: one, Known: true}

// Split is how a part shares torque between its outputs in one state.
type Split struct {
	Branches []Branch
	// Share is how much each branch gets, in proportion; nil where they are
	// locked together and grip decides.
	Share []exact.Number
	// Limited, beside Share, lets one side carry more than the other.
	Limited *LimitedSlip
}

// Branch is one way out of a split.
type Branch struct {
	Port  string
	Loose bool // let go: takes up nothing
	// Ratio of what lies between the split and the output; 1 where nothing does.
	Ratio exact.Number
	Known bool
	Words string // what Ratio is of
}

// branch is one with nothing between the split and the output.
func branch(port string) Branch { return Branch{Port: port, Ratio: one, Known: true} }

// evenly is how a bevel differential shares torque.
var evenly = []exact.Number{one, one}

// Side is an output, with how much its turns count in those of the input.
type Side struct {
	Port   string
	Weight exact.Number
}

// Between is how a part shares between axles.
type Between struct {
	Type          string // of its differential, or part_time or solid
	First, Second string // outputs
	// Ends says what the outputs lead to; empty to name the axles.
	Ends string
	// Drive is what lies between the split and the second output, input turns
	// per turn of it, and Known whether it is known; Words and Missing say what
	// it is in a formula and where it isn't known.
	Drive          exact.Number
	Known          bool
	Words, Missing string
}

// Speeds are the forward ratios that a part can be shifted to.
type Speeds struct {
	Selector string // of the part, "" its only one
	Shaft    string // the one that the ratios are of
	Always   bool   // needs one of them to pass anything on
	List     []Speed
}

// Speed is one forward ratio.
type Speed struct {
	Name, Selector string // Selector: synchro, dog or sliding
	Ratio          exact.Number
}

// Wear is something that wears or leaks at a part: what sort of fault it is and
// what it is called.
type Wear struct{ Sort, Name string }

// measure is a ratio of a part that can be measured, as package identify asks.
type measure struct {
	ratio, words, kind, position, held, input string
	// also are other kinds of stage that measure the same.
	also []string
}

// plain is a part with one output and no ratio; kinds are made from it.
type plain struct{}

func (plain) check(*Part, string, *fault.Errors) {}
func (plain) traits() Traits                     { return Traits{Axis: Lengthwise} }
func (plain) has(*Part) []Feature                { return nil }
func (plain) ports() []string                    { return []string{""} }
func (plain) ratios() []string                   { return nil }
func (plain) known(string) bool                  { return false }
func (plain) asks() []measure                    { return nil }
func (plain) take(*Part, string, Measured)       {}
func (plain) blank(*Part)                        {}
func (plain) adopt(*Part, Former) bool           { return false }
func (plain) join(*Part, Former) (string, bool)  { return "", false }
func (plain) passes(func(string) string) Passed  { return straight }
func (plain) shares(func(string) string) *Split  { return nil }
func (plain) sides() []Side                      { return []Side{{"", one}} }
func (plain) between() *Between                  { return nil }
func (plain) speeds() Speeds                     { return Speeds{} }
func (plain) remarks(*Solved, *Part, adder)      {}
func (plain) trials(*Stands, *Part) []Trial      { return nil }
func (plain) wear(*Document, *Part) []Wear       { return nil }
func (plain) showsAt(*Document, *Part) []string  { return nil }

// Speedometer is the part at which a vehicle's speedometer usually sits, the
// transfer case or else the gearbox; nil where it has neither.
func (d *Document) Speedometer() *Part {
	if d.Lies != Vehicle {
		return nil
	}
	var best *Part
	for i := range d.Parts {
		p := &d.Parts[i]
		if t := p.Traits(); t.Speedometer != "" && (best == nil || t.ForSpeedo > best.Traits().ForSpeedo) {
			best = p
		}
	}
	return best
}
