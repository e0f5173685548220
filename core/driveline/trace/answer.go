package trace

import (
	"zorvel/core/driveline"
	"zorvel/core/driveline/match"
	"zorvel/core/exact"
)

// ShaftOut is what can be said of one shaft.
type ShaftOut struct {
	ID   string         `json:"id"`
	Part string         `json:"part"`
	Name string         `json:"name"`
	Axis driveline.Axis `json:"axis"`
	// State: driven, still, free, bind, or unknown where it hangs on a ratio
	// that isn't known.
	State string `json:"state"`
	// Speed is turns per turn of the input, where it is known.
	Speed *exact.Number `json:"speed,omitempty"`
	// Ratio is input turns per turn of this shaft.
	Ratio *exact.Number `json:"ratio,omitempty"`
	RPM   *float64      `json:"rpm,omitempty"`
	Turns *exact.Number `json:"turns,omitempty"`
	// Sign is the direction, 0 where it isn't known or the shaft is still.
	Sign      int    `json:"sign"`
	Direction string `json:"direction"`
	// Torque is per unit of input torque, where the equations fix it.
	Torque      *exact.Number `json:"torque,omitempty"`
	TorqueWords string        `json:"torque_words,omitempty"`
	// Power is the part of the input's power that passes, for drawing.
	Power float64 `json:"power"`
	// Drawn is a speed to draw it at: its own, or for a free shaft one that
	// is as likely as any.
	Drawn   float64  `json:"drawn"`
	Why     string   `json:"why,omitempty"`
	Depends []string `json:"depends,omitempty"` // ratios that aren't known: "rear: ratio"
}

// MeshOut is one place where shafts act on each other.
type MeshOut struct {
	ID     string   `json:"id"`
	Part   string   `json:"part"`
	Kind   string   `json:"kind"`
	Shafts []string `json:"shafts"`
	Teeth  []int    `json:"teeth,omitempty"`
	Open   bool     `json:"open,omitempty"`
	Words  string   `json:"words"`
	Power  float64  `json:"power"`
}

// OutputOut is a wheel, a propeller or an open end.
type OutputOut struct {
	Shaft string `json:"shaft"`
	Part  string `json:"part"`
	Kind  string `json:"kind"`
	Name  string `json:"name"`
	State string `json:"state,omitempty"` // of a wheel: ground, lifted, ice, held
	// Share is the part of all output torque (wheels: drive force) that
	// arrives here; absent where grip decides or nothing arrives.
	Share      *exact.Number `json:"share,omitempty"`
	ShareWords string        `json:"share_words"`
	Path       []Step        `json:"path"`
}

// Step is one line of the way from the input to an output.
type Step struct {
	Element string            `json:"element"`
	Part    string            `json:"part"`
	Shaft   string            `json:"shaft"`
	Words   string            `json:"words"`
	Ratio   *exact.Number     `json:"ratio,omitempty"`   // of this step: turns before per turn after
	Product *exact.Number     `json:"product,omitempty"` // input turns per turn after
	Source  *driveline.Source `json:"source,omitempty"`
	Note    string            `json:"note,omitempty"`
}

// BindOut is a loop that can't turn, or can't be told.
type BindOut struct {
	Words    string        `json:"words"`
	Loop     []string      `json:"loop"` // parts, in line
	Shafts   []string      `json:"shafts"`
	Cut      string        `json:"cut,omitempty"`
	Mismatch *exact.Number `json:"mismatch,omitempty"` // a part, not %
	Percent  *float64      `json:"percent,omitempty"`
	Unknown  bool          `json:"unknown,omitempty"` // hangs on a ratio that isn't known
	Held     bool          `json:"held,omitempty"`
}

// WeakLink is the part whose torque is highest over its rating.
type WeakLink struct {
	Part    string  `json:"part"`
	Torque  float64 `json:"torque_nm"`
	Rated   float64 `json:"rated_nm"`
	Used    float64 `json:"used"` // torque over rating
	Formula string  `json:"formula"`
}

// Trace is everything about a driveline in one state.
type Trace struct {
	Input     string               `json:"input"`
	Shafts    []ShaftOut           `json:"shafts"`
	Meshes    []MeshOut            `json:"meshes"`
	Outputs   []OutputOut          `json:"outputs"`
	Binds     []BindOut            `json:"binds"`
	Notes     []driveline.Note     `json:"notes"`
	Selectors []driveline.Selector `json:"selectors"`
	Sentence  string               `json:"sentence"`
	Stands    bool                 `json:"stands"` // a vehicle that nothing pushes
	SpeedKMH  *float64             `json:"speed_kmh,omitempty"`
	Overall   *OverallOut          `json:"overall,omitempty"`
	Corner    *CornerOut           `json:"corner,omitempty"`
	Match     *match.Match         `json:"match,omitempty"`
	WeakLink  *WeakLink            `json:"weak_link,omitempty"`
	Gears     []GearRow            `json:"gears,omitempty"`
	Shifts    []ShiftRow           `json:"shifts,omitempty"`
	Tests     []HandTest           `json:"tests,omitempty"`
	Unknown   []UnknownOut         `json:"unknown"`
}

// UnknownOut is a ratio that isn't known.
type UnknownOut struct {
	Part  string `json:"part"`
	Ratio string `json:"ratio"`
	Words string `json:"words"`
}

// OverallOut is the ratio from the input to the driven wheels or propeller.
type OverallOut struct {
	Ratio exact.Number `json:"ratio"`
	Shaft string       `json:"shaft"`
	Words string       `json:"words"`
}

// CornerOut is what a corner asks of the driveline, per full circle.
type CornerOut struct {
	RadiusM      float64       `json:"radius_m"`
	Toward       string        `json:"toward"`
	TrackMM      float64       `json:"track_mm"`
	WheelbaseMM  float64       `json:"wheelbase_mm"`
	AssumedSizes bool          `json:"assumed_sizes,omitempty"` // the document has no track or wheelbase
	Wheels       []WheelPath   `json:"wheels"`
	Spiders      []SpiderSpeed `json:"spiders"`
	// SlipMPerCircle is how far front and rear tires have to slip against
	// each other in one full circle where they are locked together; the
	// mismatch of gears and tires is in it.
	SlipMPerCircle float64 `json:"slip_m_per_circle"`
	SlipFormula    string  `json:"slip_formula,omitempty"`
}

// WheelPath is one wheel's way around the corner.
type WheelPath struct {
	Part    string       `json:"part"`
	RadiusM float64      `json:"radius_m"`
	Factor  exact.Number `json:"factor"` // path per path of the vehicle
	Formula string       `json:"formula"`
}

// SpiderSpeed is how fast a differential works: the side gear against its
// carrier, per carrier turn.
type SpiderSpeed struct {
	Part    string       `json:"part"`
	Against exact.Number `json:"against"`
	RPM     float64      `json:"rpm,omitempty"`
	Formula string       `json:"formula"`
}
