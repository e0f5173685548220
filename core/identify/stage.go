// Package identify turns what a technician saw, counted and turned into a
// verdict on a gear ratio: which tooth counts are in the housing, how sure that
// is, what disagrees, and which next measurement would settle it cheapest.
//
// The reasoning is Bayes' rule over every build (set of tooth counts) that the
// stage could hold: a prior from the shop's catalog and from what can be built,
// times one stated error model for each reading. Nothing is hidden in
// constants: Models lists them, and each finding carries the arithmetic it
// came from.
//
// All functions are deterministic and keep no state.
package identify

import (
	"fmt"
	"slices"

	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/ratio"
)

// Kind is what sort of stage is looked at.
type Kind string

// The kinds of stage.
const (
	RingAndPinion Kind = "ring_and_pinion"
	Planetary     Kind = "planetary"
	TwoStage      Kind = "two_stage"
	TransferCase  Kind = "transfer_case"
	Gearbox       Kind = "gearbox"
	Gearcase      Kind = "gearcase"
	Hub           Kind = "hub"
	GearPair      Kind = "gear_pair"
	ChainPair     Kind = "chain_pair"
)

// Kinds lists every kind in the order in which a driveline is walked.
func Kinds() []Kind {
	return []Kind{RingAndPinion, TransferCase, Gearbox, Planetary, TwoStage, Hub, Gearcase, GearPair, ChainPair}
}

// Member names a planetary member, to say which one is held or driven.
type Member string

// Planetary members.
const (
	Sun     Member = "sun"
	Ring    Member = "ring"
	Carrier Member = "carrier"
)

// Stage is the question: which kind of stage, and where it has several ratios,
// which of them.
type Stage struct {
	Kind Kind `json:"kind"`
	// Position is "high", "low" or "front" for a transfer case, the gear's
	// name for a gearbox, and empty elsewhere. "front" is the ratio of rear
	// output turns to front output turns.
	Position string `json:"position,omitempty"`
	// Held and Input say how a planetary set is arranged; both default to
	// the common reduction: ring held, sun driven, carrier out.
	Held  Member `json:"held,omitempty"`
	Input Member `json:"input,omitempty"`
}

// Normal is the stage reduced to what decides its builds: stages with equal
// Normal share one Space.
func (s Stage) Normal() Stage {
	n := Stage{Kind: s.Kind}
	switch s.Kind {
	case TransferCase:
		n.Position = s.Position
	case Gearbox:
		if s.Position != "" {
			n.Position = "gear"
		}
	}
	if held, input, err := s.arrangement(); err != nil {
		n.Held, n.Input = s.Held, s.Input
	} else if s.Kind == Planetary || s.Kind == Hub || (s.Kind == TransferCase && s.Position == "low") {
		n.Held, n.Input = held, input
	}
	return n
}

// Tooth is one gear of a build, with the counts usual for it.
type Tooth struct {
	Name  string // as used in readings: "ring", "pinion", "sun" …
	Words string // as said to a technician
	Min   int    // fewer teeth than this draw a warning
	Max   int    // more teeth than this draw a warning
	large bool   // miscounted as a ring gear is, rather than as a pinion
}

// Construction is one way to build a stage: its gears and how they make the
// ratio.
type Construction struct {
	ID     string
	Words  string
	Teeth  []Tooth
	low    float64 // ratios outside low..high draw a warning
	high   float64
	weight float64 // share of the prior among the stage's constructions
	slack  int     // cluster: difference of tooth sums that is enumerated
	shape  shape
}

type shape int

const (
	shapeDirect shape = iota
	shapePair
	shapePlanetary
	shapePairPlanetary
	shapePairPair
	shapeCluster
)

// Build is one hypothesis: a construction with its tooth counts.
type Build struct {
	Construction string
	Teeth        []int // in the order of the construction's Teeth
	Ratio        exact.Number
}

func tooth(name, words string, lo, hi int, large bool) Tooth {
	return Tooth{Name: name, Words: words, Min: lo, Max: hi, large: large}
}

// Constructions returns the ways in which the stage may be built, likeliest
// first, or an Error that names the field at fault.
func (s Stage) Constructions() ([]Construction, error) {
	pairOf := func(driven, drive Tooth, low, high, weight float64) Construction {
		return Construction{ID: "pair", Words: driven.Words + " and " + drive.Words, Teeth: []Tooth{driven, drive}, low: low, high: high, weight: weight, shape: shapePair}
	}
	planetary := func(weight float64) Construction {
		return Construction{ID: "planetary", Words: "planetary set", Teeth: []Tooth{
			tooth("sun", "sun gear", 12, 60, false), tooth("ring", "ring gear", 40, 120, true),
		}, low: 0.1, high: 12, weight: weight, shape: shapePlanetary}
	}
	direct := Construction{ID: "direct", Words: "direct, 1:1", low: 1, high: 1, weight: 0.85, shape: shapeDirect}
	chain := func(weight float64) Construction {
		c := pairOf(tooth("driven", "driven sprocket", 11, 70, true), tooth("drive", "drive sprocket", 9, 60, false), 0.25, 6, weight)
		c.ID, c.Words = "chain", "chain and sprockets"
		return c
	}
	gears := func(weight float64) Construction {
		return pairOf(tooth("driven", "driven gear", 10, 90, true), tooth("drive", "drive gear", 8, 70, false), 0.2, 8, weight)
	}
	cluster := func(weight, high float64, slack int) Construction {
		return Construction{ID: "cluster", Words: "input gear, countershaft cluster and output gear", Teeth: []Tooth{
			tooth("input", "input gear", 15, 40, false), tooth("counter", "countershaft gear on the input", 20, 50, true),
			tooth("cluster", "cluster gear driving the output", 12, 44, false), tooth("output", "output gear", 16, 50, true),
		}, low: 0.5, high: high, weight: weight, slack: slack, shape: shapeCluster}
	}
	switch s.Kind {
	case RingAndPinion:
		return []Construction{pairOf(tooth("ring", "ring gear", 25, 80, true), tooth("pinion", "pinion", 5, 24, false), 1.9, 10, 1)}, nil
	case Gearcase:
		return []Construction{pairOf(tooth("gear", "forward gear", 17, 45, true), tooth("pinion", "pinion", 8, 24, false), 1, 3.2, 1)}, nil
	case Planetary:
		return []Construction{planetary(1)}, nil
	case Hub:
		return []Construction{planetary(0.6), {ID: "pair", Words: "portal gears", Teeth: []Tooth{
			tooth("driven", "driven gear", 15, 60, true), tooth("drive", "drive gear", 10, 40, false),
		}, low: 1, high: 3.5, weight: 0.4, shape: shapePair}}, nil
	case TwoStage:
		return []Construction{
			{ID: "pair_planetary", Words: "ring and pinion, then planetary set", Teeth: []Tooth{
				tooth("ring", "ring gear", 20, 44, true), tooth("pinion", "pinion", 9, 30, false),
				tooth("sun", "sun gear", 18, 45, false), tooth("planet_ring", "planetary ring gear", 50, 90, true),
			}, low: 2, high: 16, weight: 0.6, shape: shapePairPlanetary},
			{ID: "pair_pair", Words: "ring and pinion, then a gear pair", Teeth: []Tooth{
				tooth("ring", "ring gear", 20, 44, true), tooth("pinion", "pinion", 9, 30, false),
				tooth("driven", "second driven gear", 30, 56, true), tooth("drive", "second drive gear", 12, 28, false),
			}, low: 2, high: 16, weight: 0.4, shape: shapePairPair},
		}, nil
	case TransferCase:
		switch s.Position {
		case "high", "front":
			g := gears(0.05)
			return []Construction{direct, chain(0.1), g}, nil
		case "low":
			return []Construction{planetary(0.5), cluster(0.5, 6, clusterSlack)}, nil
		}
		return nil, fault.New("stage/position", "say which ratio of the transfer case: high, low or front (rear output turns per front output turn)")
	case Gearbox:
		if s.Position == "" {
			return nil, fault.New("stage/position", "say which gear of the gearbox, for example 1, 4 or R")
		}
		d := direct
		d.weight = 0.15
		return []Construction{cluster(0.6, 12, 1), gears(0.25), d}, nil
	case GearPair:
		return []Construction{gears(1)}, nil
	case ChainPair:
		return []Construction{chain(1)}, nil
	}
	return nil, fault.New("stage/kind", "%q is no kind of stage; choose one of %v", s.Kind, Kinds())
}

// arrangement returns the planetary arrangement with its defaults filled in.
func (s Stage) arrangement() (held, input Member, err error) {
	held, input = s.Held, s.Input
	if held == "" {
		held = Ring
	}
	if input == "" {
		input = Sun
		if held == Sun {
			input = Ring
		}
	}
	members := []Member{Sun, Ring, Carrier}
	if !slices.Contains(members, held) {
		return "", "", fault.New("stage/held", "the held member is sun, ring or carrier")
	}
	if !slices.Contains(members, input) {
		return "", "", fault.New("stage/input", "the driven member is sun, ring or carrier")
	}
	if held == input {
		return "", "", fault.New("stage/input", "the held member can't be driven too; choose another input")
	}
	return held, input, nil
}

// PlanetaryRatio is the ratio of a simple planetary set from the Willis
// equation z_s·ω_s + z_r·ω_r = (z_s + z_r)·ω_c (Willis 1870; Müller,
// Epicyclic Drive Trains). Negative: the output turns against the input.
func PlanetaryRatio(sun, ring int, held, input Member) (exact.Number, error) {
	s, r := int64(sun), int64(ring)
	if s <= 0 || r <= 0 {
		return exact.Number{}, ratio.ErrZero
	}
	switch {
	case held == Ring && input == Sun:
		return exact.New(s+r, s), nil
	case held == Ring && input == Carrier:
		return exact.New(s, s+r), nil
	case held == Sun && input == Ring:
		return exact.New(s+r, r), nil
	case held == Sun && input == Carrier:
		return exact.New(r, s+r), nil
	case held == Carrier && input == Sun:
		return exact.New(-r, s), nil
	case held == Carrier && input == Ring:
		return exact.New(-s, r), nil
	}
	return exact.Number{}, fault.New("stage/held", "hold one of sun, ring and carrier and drive another")
}

// ratioOf is the exact ratio of the construction with the given teeth.
func (c Construction) ratioOf(s Stage, t []int) (exact.Number, error) {
	switch c.shape {
	case shapePair:
		return ratio.Pair{Driven: t[0], Driver: t[1]}.Ratio()
	case shapePlanetary:
		held, input, err := s.arrangement()
		if err != nil {
			return exact.Number{}, err
		}
		return PlanetaryRatio(t[0], t[1], held, input)
	case shapePairPlanetary:
		second, err := PlanetaryRatio(t[2], t[3], Ring, Sun)
		if err != nil {
			return exact.Number{}, err
		}
		return mulPair(t[0], t[1], second)
	case shapePairPair:
		second, err := ratio.Pair{Driven: t[2], Driver: t[3]}.Ratio()
		if err != nil {
			return exact.Number{}, err
		}
		return mulPair(t[0], t[1], second)
	case shapeCluster:
		second, err := ratio.Pair{Driven: t[3], Driver: t[2]}.Ratio()
		if err != nil {
			return exact.Number{}, err
		}
		return mulPair(t[1], t[0], second)
	default:
		return exact.Int(1), nil
	}
}

// fraction is that ratio as whole numbers, not in lowest terms, the lower one above zero; not
// ok where there is none, or where they are beyond any gear's.
func (c Construction) fraction(s Stage, t []int) (num, den int64, ok bool) {
	z := func(i int) int64 { return int64(t[i]) }
	for _, n := range t {
		if n < 1 || n > 4000 {
			return 0, 0, false
		}
	}
	switch c.shape {
	case shapePair:
		return z(0), z(1), true
	case shapePairPlanetary:
		return z(0) * (z(2) + z(3)), z(1) * z(2), true
	case shapePairPair:
		return z(0) * z(2), z(1) * z(3), true
	case shapeCluster:
		return z(1) * z(3), z(0) * z(2), true
	}
	r, err := c.ratioOf(s, t)
	if err != nil {
		return 0, 0, false
	}
	return r.Fraction()
}

func mulPair(driven, drive int, second exact.Number) (exact.Number, error) {
	first, err := ratio.Pair{Driven: driven, Driver: drive}.Ratio()
	if err != nil {
		return exact.Number{}, err
	}
	return first.Mul(second), nil
}

// Formula is the construction's ratio formula in words.
func (c Construction) Formula(s Stage) string {
	switch c.shape {
	case shapePair:
		return fmt.Sprintf("ratio = %s teeth ÷ %s teeth", c.Teeth[0].Words, c.Teeth[1].Words)
	case shapePlanetary:
		held, input, err := s.arrangement()
		if err != nil {
			return ""
		}
		switch {
		case held == Ring && input == Sun:
			return "ratio = 1 + ring ÷ sun (ring held, sun driven)"
		case held == Ring:
			return "ratio = sun ÷ (sun + ring) (ring held, carrier driven)"
		case held == Sun && input == Ring:
			return "ratio = 1 + sun ÷ ring (sun held, ring driven)"
		case held == Sun:
			return "ratio = ring ÷ (sun + ring) (sun held, carrier driven)"
		case input == Sun:
			return "ratio = −ring ÷ sun (carrier held, sun driven: the output turns backward)"
		}
		return "ratio = −sun ÷ ring (carrier held, ring driven: the output turns backward)"
	case shapePairPlanetary:
		return "ratio = ring ÷ pinion × (1 + planetary ring ÷ sun)"
	case shapePairPair:
		return "ratio = ring ÷ pinion × second driven ÷ second drive"
	case shapeCluster:
		return "ratio = countershaft gear ÷ input gear × output gear ÷ cluster gear"
	}
	return "input and output turn together: ratio = 1"
}

// Check is a doubt about counts that could still be true: a warning to count
// again, never a refusal.
type Check struct {
	Field   string `json:"field"` // the member it is about
	Message string `json:"message"`
}

// BuildChecks warns where the counts are unusual for the stage or can't be
// assembled in the usual way. planets and planet may be zero when not counted.
func (s Stage) BuildChecks(c Construction, t []int, planets, planet int) []Check {
	var out []Check
	for i, g := range c.Teeth {
		if t[i] < g.Min || t[i] > g.Max {
			out = append(out, Check{g.Name, fmt.Sprintf("%d teeth is unusual for a %s (usually %d to %d): count again?", t[i], g.Words, g.Min, g.Max)})
		}
	}
	if r, err := c.ratioOf(s, t); err == nil {
		if f := absf(r.Float()); f < c.low-1e-9 || f > c.high+1e-9 {
			out = append(out, Check{lastName(c), fmt.Sprintf("a ratio of %s is unusual here (usually %.2f to %.2f): count again?", r.Label(), c.low, c.high)})
		}
	}
	switch c.shape {
	case shapePlanetary:
		out = append(out, planetaryChecks("ring", t[0], t[1], planets, planet)...)
	case shapePairPlanetary:
		out = append(out, planetaryChecks("planet_ring", t[2], t[3], planets, planet)...)
	case shapeCluster:
		// Both meshes share the two parallel shafts, hence one center
		// distance: with one module the tooth sums agree; shifted
		// profiles and helix angles move them a little.
		if a, b := t[0]+t[1], t[2]+t[3]; a-b > clusterSlack || b-a > clusterSlack {
			out = append(out, Check{"cluster", fmt.Sprintf("input and countershaft gear have %d teeth together, cluster and output gear %d: on the same two shafts these are usually within %d: count again?", a, b, clusterSlack)})
		}
	}
	return out
}

// clusterSlack is how far the tooth sums of two meshes on the same two shafts
// may usually differ.
const clusterSlack = 2

func planetaryChecks(ringName string, sun, ring, planets, planet int) []Check {
	var out []Check
	if ring <= sun {
		return nil // refused before
	}
	if (ring-sun)%2 != 0 {
		out = append(out, Check{ringName, fmt.Sprintf("sun %d and ring %d leave no whole planet gear (ring = sun + 2 × planet): count again?", sun, ring)})
	} else if planet > 0 && planet != (ring-sun)/2 {
		out = append(out, Check{"planet", fmt.Sprintf("sun %d and ring %d call for planets of %d teeth, %d were counted: count again?", sun, ring, (ring-sun)/2, planet)})
	}
	if planets > 0 && (sun+ring)%planets != 0 {
		out = append(out, Check{"planets", fmt.Sprintf("sun %d + ring %d = %d can't be shared by %d equally spaced planets: count again? (Unequal spacing exists.)", sun, ring, sun+ring, planets)})
	}
	return out
}

func lastName(c Construction) string {
	if len(c.Teeth) == 0 {
		return "ratio"
	}
	return c.Teeth[0].Name
}

func absf(f float64) float64 {
	if f < 0 {
		return -f
	}
	return f
}

// output is what is turned at a stage, as it is said.
func (k Kind) output() string {
	switch k {
	case Gearcase:
		return "the propeller shaft"
	case Hub:
		return "the wheel"
	case RingAndPinion, TwoStage:
		return "both axle flanges"
	}
	return "the output"
}
