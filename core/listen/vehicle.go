package listen

import (
	"fmt"
	"math"
)

// Pair is two gears in mesh: the one that drives and the one that is driven.
type Pair struct {
	Drive  int `json:"drive"`
	Driven int `json:"driven"`
}

// Bearing is a wheel bearing whose counts are known: its tones per turn of the wheel.
type Bearing struct {
	Name  string  `json:"name"`
	Outer float64 `json:"outer"`
	Inner float64 `json:"inner"`
}

// Vehicle is what is known of the driveline that is heard, in the gear it is in.
type Vehicle struct {
	Circumference float64   `json:"rolling_m"` // of the tires
	Axle          *Pair     `json:"axle,omitempty"`
	AxleRatio     float64   `json:"axle_ratio,omitempty"` // about, where the teeth aren't known
	Cylinders     int       `json:"cylinders,omitempty"`
	Neutral       bool      `json:"neutral,omitempty"`
	GearRatio     float64   `json:"gear_ratio,omitempty"`  // of the gear it is in; 0 unknown, 1 straight through
	GearPairs     []Pair    `json:"gear_pairs,omitempty"`  // meshes of that gear, from the engine on; none straight through
	CaseRatio     float64   `json:"case_ratio,omitempty"`  // of the transfer case; 0 is 1
	CasePairs     []Pair    `json:"case_pairs,omitempty"`  // meshes of its range, from the gearbox on
	CasePlanet    *Pair     `json:"case_planet,omitempty"` // its range is planetary: sun, and the ring that is held
	Pitches       int       `json:"tread_pitches,omitempty"`
	Bearings      []Bearing `json:"bearings,omitempty"`
}

// Kinds of sources.
const (
	RingAndPinion = "ring_and_pinion"
	GearMesh      = "gearbox_mesh"
	CaseMesh      = "transfer_mesh"
	Engine        = "engine"
	Unbalance     = "driveshaft_unbalance"
	JointAngle    = "driveshaft_joint"
	Tire          = "tire"
	WheelBearing  = "wheel_bearing"
	FixedTone     = "fixed_tone"
)

// Source is something in the driveline that can make a tone.
type Source struct {
	Kind      string  `json:"kind"`
	Name      string  `json:"name"`
	Ring      int     `json:"ring,omitempty"`
	Pinion    int     `json:"pinion,omitempty"`
	PerWheel  float64 `json:"per_wheel_turn,omitempty"`
	PerShaft  float64 `json:"per_driveshaft_turn,omitempty"`
	PerEngine float64 `json:"per_engine_turn,omitempty"`
	harmonics int
	prior     float64 // logarithm, of a pair of teeth that are only about known
}

// overall is engine turns per wheel turn; 0 where that isn't known.
func (v Vehicle) overall() float64 {
	if v.Neutral || v.GearRatio == 0 {
		return 0
	}
	return v.GearRatio * v.transfer() * v.axle()
}

func (v Vehicle) transfer() float64 {
	if v.CasePlanet != nil {
		return 1 + float64(v.CasePlanet.Driven)/float64(v.CasePlanet.Drive)
	}
	if v.CaseRatio == 0 {
		return 1
	}
	return v.CaseRatio
}

func (v Vehicle) axle() float64 {
	if v.Axle != nil {
		return float64(v.Axle.Driven) / float64(v.Axle.Drive)
	}
	return v.AxleRatio
}

// ratioSigma is by how much, as a share, a ratio that is only about known may be off.
const ratioSigma = 0.004

// commonRing is about how many teeth a ring gear has.
const commonRing = 41

// sources are all that the vehicle can make, with their orders.
func (v Vehicle) sources() []Source {
	i, all := v.axle(), v.overall()
	var out []Source
	add := func(kind, name string, perWheel float64, harmonics int) *Source {
		s := Source{Kind: kind, Name: name, PerWheel: perWheel, harmonics: harmonics}
		if i > 0 {
			s.PerShaft = perWheel / i
		}
		if all > 0 {
			s.PerEngine = perWheel / all
		}
		out = append(out, s)
		return &out[len(out)-1]
	}
	for _, p := range v.axles() {
		s := add(RingAndPinion, fmt.Sprintf("ring and pinion, %d:%d", p.Driven, p.Drive), float64(p.Driven), 3)
		s.Ring, s.Pinion, s.prior = p.Driven, p.Drive, p.prior
		s.PerShaft = float64(p.Drive)
	}
	if i > 0 {
		add(Unbalance, "driveshaft out of balance", i, 1)
		add(JointAngle, "driveshaft joint angle", 2*i, 1)
	}
	if all > 0 && v.Cylinders > 0 {
		add(Engine, fmt.Sprintf("engine firing, %d cylinders", v.Cylinders), float64(v.Cylinders)/2*all, 4)
	}
	if all > 0 {
		order := all // of the shaft that drives each mesh
		for k, p := range v.GearPairs {
			name := fmt.Sprintf("gearbox mesh, %d:%d", p.Driven, p.Drive)
			if k == 0 && len(v.GearPairs) > 1 {
				name = fmt.Sprintf("gearbox input mesh, %d:%d", p.Driven, p.Drive)
			}
			add(GearMesh, name, order*float64(p.Drive), 3)
			order *= float64(p.Drive) / float64(p.Driven)
		}
		order = v.transfer() * i
		for k, p := range v.CasePairs {
			name := "transfer case mesh"
			if len(v.CasePairs) == 2 {
				name = []string{"transfer case low range, input mesh", "transfer case low range, output mesh"}[k]
			}
			add(CaseMesh, fmt.Sprintf("%s, %d:%d", name, p.Driven, p.Drive), order*float64(p.Drive), 3)
			order *= float64(p.Drive) / float64(p.Driven)
		}
	}
	if p := v.CasePlanet; p != nil && i > 0 && all > 0 {
		// Sun in, ring held, carrier out: each planet passes the whole ring once a turn of
		// the carrier, and (1 + ring/sun − 1)·sun teeth of the sun: as many.
		add(CaseMesh, fmt.Sprintf("transfer case planetary, sun %d, ring %d", p.Drive, p.Driven), i*float64(p.Driven),
			3)
	}
	if v.Pitches > 0 {
		add(Tire, fmt.Sprintf("tire tread, %d pitches", v.Pitches), float64(v.Pitches), 2)
	}
	for _, b := range v.Bearings {
		if b.Outer > 0 {
			add(WheelBearing, b.Name+" wheel bearing, outer race", b.Outer, 40)
		}
		if b.Inner > 0 {
			add(WheelBearing, b.Name+" wheel bearing, inner race", b.Inner, 40)
		}
	}
	return out
}

type axlePair struct {
	Pair
	prior float64
}

// axles is the axle's pair, or all pairs that fit a ratio that is about known.
func (v Vehicle) axles() []axlePair {
	if v.Axle != nil {
		return []axlePair{{Pair: *v.Axle}}
	}
	if v.AxleRatio <= 0 {
		return nil
	}
	var out []axlePair
	for pinion := 5; pinion <= 19; pinion++ {
		ring := int(math.Round(float64(pinion) * v.AxleRatio))
		for r := ring - 1; r <= ring+1; r++ {
			off := math.Log(float64(r)/float64(pinion)/v.AxleRatio) / ratioSigma
			if r < 25 || r > 60 || math.Abs(off) > 4 {
				continue
			}
			common := (float64(r) - commonRing) / 7
			prior := -off*off/2 - common*common/4
			if r == v.Pitches {
				prior -= 2 // the tire's own line is enough for that
			}
			out = append(out, axlePair{Pair{pinion, r}, prior})
		}
	}
	return out
}

// Sources are all the sources of tones that a vehicle has in its gear, with the orders
// they make.
func Sources(v Vehicle) []Source { return v.sources() }
