package setup

import (
	"fmt"
	"math"
	"strings"

	"zorvel/core/backlash"
	"zorvel/core/fault"
	"zorvel/core/say"
	"zorvel/core/shim"
	"zorvel/core/typed"
)

// MostTrials bounds a question; the contract has the same.
const MostTrials = 40

// Axle asks how a ring and pinion stands and what to move next. Texts are as
// they are typed; a figure without its unit is in Unit.
type Axle struct {
	Family        string   `json:"family,omitempty"` // the shop's figures of it are added
	Part          string   `json:"part,omitempty"`   // of the unit that it is kept with
	Unit          string   `json:"unit,omitempty"`   // mm (default) or in
	Ring          int      `json:"ring"`
	Pinion        int      `json:"pinion"`
	Pressure      float64  `json:"pressure_deg,omitempty"`   // 20 if left out
	Spiral        *float64 `json:"spiral_deg,omitempty"`     // 35 if left out: what axles commonly have; 0 is a straight bevel
	RingSide      string   `json:"ring_side,omitempty"`      // left or right: the side of the housing on which the ring sits
	PinionThicker string   `json:"pinion_thicker,omitempty"` // in or out: which way a thicker depth shim moves the pinion
	Bearings      string   `json:"bearings,omitempty"`       // new (default) or used
	Spacing       string   `json:"spacing,omitempty"`        // shims or crush: what sets the pinion's preload
	Figures       []Figure `json:"figures,omitempty"`
	DepthMark     string   `json:"depth_mark,omitempty"` // what the pinion's mark adds to the nominal depth, with its sign
	SealDrag      string   `json:"seal_drag,omitempty"`  // torque of the seal, where it is in
	ArmMM         float64  `json:"arm_mm,omitempty"`     // radius at which the dial touches; at the teeth if left out
	PitchMM       float64  `json:"pitch_mm,omitempty"`   // pitch radius of the gear on the same shaft, needed with an arm
	RepeatMM      float64  `json:"repeat_mm,omitempty"`  // of the gauge at the teeth, a standard deviation: 0.01 if left out
	Box           string   `json:"box,omitempty"`        // as ParseBox reads it
	Most          int      `json:"most_pieces,omitempty"`
	Trials        []Made   `json:"trials"` // in the order in which they were made
	// Housings is what other shops' housings say of the sensitivities, where they do.
	Housings *Housings `json:"housings,omitempty"`
}

// Housings is what is believed of a housing's sensitivities before the first move.
type Housings struct {
	Ring   *backlash.Housings `json:"ring,omitempty"`
	Pinion *backlash.Housings `json:"pinion,omitempty"`
}

// Made is one assembly: what is in it and what was measured. A first look at an axle
// that nobody has opened yet names no shims at all.
type Made struct {
	Pinion       string `json:"pinion,omitempty"` // depth shims
	Left         string `json:"left,omitempty"`   // carrier shims
	Right        string `json:"right,omitempty"`
	Spacer       string `json:"spacer,omitempty"`        // shims that set the pinion's preload
	PinionTorque string `json:"pinion_torque,omitempty"` // rotating torque, as ParseTorque reads it
	TotalTorque  string `json:"total_torque,omitempty"`  // with the carrier in
	Backlash     string `json:"backlash,omitempty"`      // places, as ParsePlaces reads them
	BackFace     string `json:"back_face,omitempty"`     // of the ring, from the same mark
	Depth        string `json:"depth,omitempty"`         // pinion head to the ring's axis, as ParseDepth reads it
	Drive        *Spot  `json:"drive,omitempty"`
	Coast        *Spot  `json:"coast,omitempty"`
	Mark         string `json:"mark,omitempty"` // whole (default), two_spots, varies or edge_line
	// Sure: what looked mistyped was looked at again.
	Sure bool `json:"sure,omitempty"`
}

// Spot is where the middle of a contact pattern lies on the tooth.
type Spot struct {
	Height float64 `json:"height"` // −1 at the root, +1 at the face
	Length float64 `json:"length"` // −1 at the small end (toe), +1 at the big end (heel)
}

// read is a trial with its figures in millimeters and newton meters.
type read struct {
	pinion, left, right Pile
	spacer              *Pile
	lash                *Around
	face                *Around
	pinionNM, totalNM   *Torque
	depth               *float64
	y, x                float64 // pinion inward, ring away, from where it was in the first trial's zero
	height, length      *float64
	told                []string
}

// firstLook is whether no shim is named: the answer is which way and how far to move,
// without stacks, and neither the ring's side nor the way of a thicker shim is needed.
func (q *Axle) firstLook() bool {
	if len(q.Trials) != 1 {
		return false
	}
	m := q.Trials[0]
	return strings.TrimSpace(m.Pinion+m.Left+m.Right) == ""
}

func (q *Axle) mesh() (ring, pinion backlash.Mesh) {
	ring = backlash.Mesh{Teeth: q.Ring, Mate: q.Pinion, Pressure: q.Pressure, Spiral: *q.Spiral}
	pinion = ring
	pinion.Teeth, pinion.Mate = q.Pinion, q.Ring
	return ring, pinion
}

// inward is +1 where a thicker depth shim moves the pinion toward the ring's axis.
func (q *Axle) inward() float64 {
	if q.PinionThicker == "out" {
		return -1
	}
	return 1
}

// away is +1 where a thicker right shim moves the ring away from the pinion: a
// shim on the ring's own side pushes it toward the pinion.
func (q *Axle) away() float64 {
	if q.RingSide == "right" {
		return -1
	}
	return 1
}

func oneOf(errs *fault.Errors, field string, v *string, what string, choices ...string) {
	for _, c := range choices {
		if *v == c {
			return
		}
	}
	errs.Add(field, "%s: %s", what, strings.Join(choices, " or "))
}

func defaults[T comparable](v *T, d T) {
	var zero T
	if *v == zero {
		*v = d
	}
}

// check refuses what can't be and reads the rest.
func (q *Axle) check() ([]read, sheet, *Torque, error) {
	var errs fault.Errors
	defaults(&q.Unit, typed.Millimeters)
	defaults(&q.Pressure, 20)
	if q.Spiral == nil {
		common := 35.0
		q.Spiral = &common
	}
	defaults(&q.Bearings, "new")
	defaults(&q.Spacing, "shims")
	defaults(&q.RepeatMM, 0.01)
	defaults(&q.Most, 4)
	oneOf(&errs, "unit", &q.Unit, "the unit of figures that have none", typed.Millimeters, typed.Inches)
	if q.Ring < 5 || q.Ring > 200 || q.Pinion < 5 || q.Pinion > 100 || q.Ring < q.Pinion {
		errs.Add("ring", "teeth of ring and pinion, as 41 and 10; the ring has more")
	}
	if !(q.Pressure >= 10 && q.Pressure <= 35) {
		errs.Add("pressure_deg", "from 10 to 35 degrees; 20 is common")
	}
	if !(*q.Spiral >= 0 && *q.Spiral <= 55) {
		errs.Add("spiral_deg", "from 0 to 55 degrees; 35 is common")
	}
	if !q.firstLook() || q.RingSide != "" {
		oneOf(&errs, "ring_side", &q.RingSide, "the side of the housing on which the ring gear sits", "left", "right")
	}
	if !q.firstLook() || q.PinionThicker != "" {
		oneOf(&errs, "pinion_thicker", &q.PinionThicker, "which way a thicker depth shim moves the pinion", "in", "out")
	}
	oneOf(&errs, "bearings", &q.Bearings, "the pinion's bearings", "new", "used")
	oneOf(&errs, "spacing", &q.Spacing, "what sets the pinion's preload", "shims", "crush")
	if !(q.RepeatMM > 0 && q.RepeatMM <= 0.2) {
		errs.Add("repeat_mm", "what the gauge repeats to, up to 0.2 mm")
	}
	if q.ArmMM != 0 || q.PitchMM != 0 {
		if !(q.ArmMM >= 5 && q.ArmMM <= 1000) {
			errs.Add("arm_mm", "radius at which the dial touches its arm, from 5 to 1000 mm")
		}
		if !(q.PitchMM >= 3 && q.PitchMM <= 500) {
			errs.Add("pitch_mm", "pitch radius of the gear on the shaft that the arm sits on, from 3 to 500 mm")
		}
	}
	if h := q.Housings; h != nil && h.Ring != nil {
		h.Ring.Check("housings/ring/", &errs)
	}
	if h := q.Housings; h != nil && h.Pinion != nil {
		h.Pinion.Check("housings/pinion/", &errs)
	}
	if q.Most < 1 || q.Most > shim.MaxPieces {
		errs.Add("most_pieces", "from 1 to %d pieces in a stack", shim.MaxPieces)
	}
	if len(q.Trials) == 0 || len(q.Trials) > MostTrials {
		errs.Add("trials", "from 1 to %d trials", MostTrials)
		return nil, sheet{}, nil, errs.Err()
	}
	s := readSheet(q.Figures, "figures", &errs)
	var seal *Torque
	if q.SealDrag != "" {
		t, problem := ParseTorque(q.SealDrag)
		if problem != "" {
			errs.Add("seal_drag", "%s", problem)
		}
		seal = &t
	}
	if q.DepthMark != "" {
		if _, _, problem := length(plain(q.DepthMark), q.Unit); problem != "" {
			errs.Add("depth_mark", "%s", problem)
		}
	}
	out := make([]read, len(q.Trials))
	for i := range q.Trials {
		out[i] = q.readTrial(&q.Trials[i], fmt.Sprintf("trials/%d/", i), &errs)
		if p := out[i].pinionNM; seal != nil && p != nil && seal.NM > p.NM && !q.Trials[i].Sure {
			errs.Add("seal_drag", "the seal alone can't drag more (%s N·m) than seal and bearings together (%s N·m in trial %d): is one in another unit?", say.Trim(seal.NM, 3), say.Trim(p.NM, 3), i+1)
		}
	}
	return out, s, seal, errs.Err()
}

// readStacks reads what shims are in; where none is named yet, stacks that every move finds
// room in.
func (q *Axle) readStacks(m *Made, r *read, at string, errs *fault.Errors) {
	pile := func(field, text string) Pile {
		p, problem := ParsePile(text, q.Unit)
		if problem != "" {
			errs.Add(at+field, "%s", problem)
		}
		return p
	}
	if q.firstLook() {
		r.pinion, r.left, r.right = Pile{MM: 10}, Pile{MM: 10}, Pile{MM: 10}
	} else {
		r.pinion, r.left, r.right = pile("pinion", m.Pinion), pile("left", m.Left), pile("right", m.Right)
	}
	if m.Spacer != "" {
		p := pile("spacer", m.Spacer)
		r.spacer = &p
	}
}

func (q *Axle) readTrial(m *Made, at string, errs *fault.Errors) read {
	var r read
	q.readStacks(m, &r, at, errs)
	torque := func(field, text string) *Torque {
		if text == "" {
			return nil
		}
		t, problem := ParseTorque(text)
		if problem != "" {
			errs.Add(at+field, "%s", problem)
		}
		return &t
	}
	r.pinionNM, r.totalNM = torque("pinion_torque", m.PinionTorque), torque("total_torque", m.TotalTorque)
	if p, t := r.pinionNM, r.totalNM; p != nil && t != nil && t.NM < 0.97*p.NM && !m.Sure {
		errs.Add(at+"total_torque", "with the carrier in it turns no easier: a total of %s N·m can't be less than the pinion's own %s. Are the two swapped, or is one in another unit?", say.Trim(t.NM, 3), say.Trim(p.NM, 3))
	}
	scale := 1.0
	if q.ArmMM > 0 {
		scale = q.PitchMM / q.ArmMM
	}
	places := func(field, text, what string, k float64, signed bool) *Around {
		if text == "" {
			return nil
		}
		list, told, problem := ParsePlaces(text, q.Unit, signed)
		if problem != "" {
			errs.Add(at+field, "%s", problem)
			return nil
		}
		for _, t := range told {
			r.told = append(r.told, what+": "+t)
		}
		a := around(list, k, q.RepeatMM)
		if a.Counted == 0 {
			errs.Add(at+field, "at least one reading, as 0.14 0.15 0.17")
			return nil
		}
		return &a
	}
	r.lash = places("backlash", m.Backlash, "Backlash", scale, false)
	r.face = places("back_face", m.BackFace, "Back face", 1, true)
	if m.Depth != "" {
		d, problem := ParseDepth(m.Depth, q.Unit)
		if problem == "" && (d <= 0 || d > 500) {
			problem = "from above 0 to 500 mm"
		}
		if problem != "" {
			errs.Add(at+"depth", "%s", problem)
		}
		r.depth = &d
	}
	for _, s := range []struct {
		field string
		spot  *Spot
	}{{"drive", m.Drive}, {"coast", m.Coast}} {
		if s.spot != nil && !(math.Abs(s.spot.Height) <= 1 && math.Abs(s.spot.Length) <= 1) {
			errs.Add(at+s.field, "within the tooth: from −1 (root, toe) to 1 (face, heel)")
		}
	}
	defaults(&m.Mark, "whole")
	oneOf(errs, at+"mark", &m.Mark, "what the pattern looks like", "whole", "two_spots", "varies", "edge_line")
	r.y = q.inward() * r.pinion.MM
	r.x = q.away() * (r.right.MM - r.left.MM) / 2
	r.pattern(m)
	return r
}

// pattern is what both flanks say together: a depth error moves both to one
// height, a ring move sends both the same way along the tooth.
func (r *read) pattern(m *Made) {
	mean := func(of func(*Spot) float64) *float64 {
		var v float64
		switch {
		case m.Drive != nil && m.Coast != nil:
			v = (of(m.Drive) + of(m.Coast)) / 2
		case m.Drive != nil:
			v = of(m.Drive)
		case m.Coast != nil:
			v = of(m.Coast)
		default:
			return nil
		}
		return &v
	}
	r.height = mean(func(s *Spot) float64 { return s.Height })
	r.length = mean(func(s *Spot) float64 { return s.Length })
}
