// Package fits says before a gear is fitted whether it belongs in its place:
// teeth against the mate, face and offset both ways round, spline, width and
// mounting, and whether new would run on worn.
package fits

import (
	"fmt"
	"math"

	"zorvel/core/fault"
	"zorvel/core/say"
)

// Gear is the gear in the hand.
type Gear struct {
	Teeth    int     `json:"teeth"`
	Module   float64 `json:"module_mm,omitempty"` // normal module; 25.4 ÷ diametral pitch
	Pressure float64 `json:"pressure_deg,omitempty"`
	Helix    float64 `json:"helix_deg,omitempty"`
	Hand     string  `json:"hand,omitempty"` // left or right, where it is helical
	FaceMM   float64 `json:"face_mm,omitempty"`
	// OffsetMM is how far the middle of the teeth lies from the middle of the
	// hub, toward the marked side.
	OffsetMM float64 `json:"offset_mm,omitempty"`
	WidthMM  float64 `json:"width_mm,omitempty"` // over everything, hub and teeth
	Mount
}

// Mount is how a gear sits on its shaft or flange.
type Mount struct {
	Splines  int     `json:"splines,omitempty"`
	SplineMM float64 `json:"spline_mm,omitempty"` // major diameter
	Bolts    int     `json:"bolts,omitempty"`
	CircleMM float64 `json:"circle_mm,omitempty"` // of the bolts
	Worn     string  `json:"worn,omitempty"`      // new, used or worn
}

// Seat is where it is to go.
type Seat struct {
	MateTeeth    int     `json:"mate_teeth"`
	MateModule   float64 `json:"mate_module_mm,omitempty"`
	MatePressure float64 `json:"mate_pressure_deg,omitempty"`
	MateHelix    float64 `json:"mate_helix_deg,omitempty"`
	MateHand     string  `json:"mate_hand,omitempty"`
	MateFaceMM   float64 `json:"mate_face_mm,omitempty"`
	// MateAtMM is how far the middle of the mate's teeth lies from the middle of
	// the gear's seat, toward the side where the mark would be.
	MateAtMM float64 `json:"mate_at_mm,omitempty"`
	MateWorn string  `json:"mate_worn,omitempty"`
	CenterMM float64 `json:"center_mm,omitempty"` // distance of the shafts
	RoomMM   float64 `json:"room_mm,omitempty"`   // width that is there
	Mount
}

// Question asks for both ways round.
type Question struct {
	Gear Gear `json:"gear"`
	Seat Seat `json:"seat"`
}

// Answers of a check.
const (
	Yes = "yes"
	No  = "no"
	Ask = "ask"
)

// Reason is one check.
type Reason struct {
	ID     string `json:"id"`
	Name   string `json:"name"`
	Answer string `json:"answer"`
	Text   string `json:"text"`
}

// Way is one way round.
type Way struct {
	ID      string   `json:"id"` // as_marked or turned
	Name    string   `json:"name"`
	Answer  string   `json:"answer"`
	Overlap *float64 `json:"overlap_mm,omitempty"`
	Reasons []Reason `json:"reasons"`
}

// Answer says whether it fits, and which way.
type Answer struct {
	Answer   string   `json:"answer"`
	Sentence string   `json:"sentence"`
	Ways     []Way    `json:"ways"`
	Cautions []string `json:"cautions"`
}

var cautions = []string{
	"Turn it all the way round by hand before closing; what catches once, breaks once.",
	"Look at the oil holes that feed its bearing or spline before it goes on.",
	"The maker's manual decides which gears run together.",
}

func (q *Question) check() error {
	var errs fault.Errors
	within := func(field string, v, low, high float64, unit string) {
		if v != 0 && !(v >= low && v <= high) {
			errs.Add(field, "from %s to %s%s, or left out", say.Trim(low, 2), say.Trim(high, 0), unit)
		}
	}
	if q.Gear.Teeth < 4 || q.Gear.Teeth > 500 {
		errs.Add("gear/teeth", "from 4 to 500 teeth")
	}
	if q.Seat.MateTeeth < 4 || q.Seat.MateTeeth > 500 {
		errs.Add("seat/mate_teeth", "from 4 to 500 teeth")
	}
	for at, v := range map[string]float64{"gear/module_mm": q.Gear.Module, "seat/mate_module_mm": q.Seat.MateModule} {
		within(at, v, 0.2, 30, " mm")
	}
	for at, v := range map[string]float64{"gear/pressure_deg": q.Gear.Pressure, "seat/mate_pressure_deg": q.Seat.MatePressure} {
		within(at, v, 10, 35, "°")
	}
	for at, v := range map[string]float64{"gear/helix_deg": q.Gear.Helix, "seat/mate_helix_deg": q.Seat.MateHelix} {
		within(at, v, 0, 60, "°")
	}
	for at, v := range map[string]float64{"gear/face_mm": q.Gear.FaceMM, "seat/mate_face_mm": q.Seat.MateFaceMM, "gear/width_mm": q.Gear.WidthMM, "seat/room_mm": q.Seat.RoomMM,
		"seat/center_mm": q.Seat.CenterMM, "gear/spline_mm": q.Gear.SplineMM, "seat/spline_mm": q.Seat.SplineMM, "gear/circle_mm": q.Gear.CircleMM, "seat/circle_mm": q.Seat.CircleMM} {
		within(at, v, 0.5, 2000, " mm")
	}
	for at, v := range map[string]float64{"gear/offset_mm": q.Gear.OffsetMM, "seat/mate_at_mm": q.Seat.MateAtMM} {
		within(at, v, -500, 500, " mm")
	}
	for at, v := range map[string]int{"gear/splines": q.Gear.Splines, "seat/splines": q.Seat.Splines, "gear/bolts": q.Gear.Bolts, "seat/bolts": q.Seat.Bolts} {
		within(at, float64(v), 1, 200, "")
	}
	for at, v := range map[string]string{"gear/hand": q.Gear.Hand, "seat/mate_hand": q.Seat.MateHand} {
		if v != "" && v != "left" && v != "right" {
			errs.Add(at, "left or right; left out where the teeth are straight")
		}
	}
	for at, v := range map[string]string{"gear/worn": q.Gear.Worn, "seat/worn": q.Seat.Worn, "seat/mate_worn": q.Seat.MateWorn} {
		if v != "" && v != "new" && v != "used" && v != "worn" {
			errs.Add(at, "new, used or worn")
		}
	}
	return errs.Err()
}

// Work checks both ways round. What is left out is asked, never taken as
// fitting. Faults are fault.Errors with paths within the question.
func Work(q Question) (*Answer, error) {
	if err := fault.Figures(q); err != nil {
		return nil, err
	}
	if err := q.check(); err != nil {
		return nil, err
	}
	same := []Reason{q.teeth(), q.helix(), q.center(), q.spline(), q.bolts(), q.width(), q.wear()}
	a := &Answer{Cautions: cautions}
	for _, w := range []Way{{ID: "as_marked", Name: "Mark outward"}, {ID: "turned", Name: "Turned round"}} {
		side := 1.0
		if w.ID == "turned" {
			side = -1
		}
		r, overlap := q.face(side)
		w.Overlap, w.Reasons = overlap, append([]Reason{r}, same...)
		w.Answer = worst(w.Reasons)
		a.Ways = append(a.Ways, w)
	}
	a.decide(q)
	return a, nil
}

func worst(list []Reason) string {
	out := Yes
	for _, r := range list {
		if r.Answer == No {
			return No
		}
		if r.Answer == Ask {
			out = Ask
		}
	}
	return out
}

func (a *Answer) decide(q Question) {
	m, t := a.Ways[0], a.Ways[1]
	first := func(w Way, answer string) string {
		for _, r := range w.Reasons {
			if r.Answer == answer {
				return say.Small(r.Name) + ": " + r.Text
			}
		}
		return ""
	}
	switch {
	case m.Answer == Yes && t.Answer == Yes:
		a.Answer, a.Sentence = Yes, "It fits either way round; put it back the way its wear shows."
	case m.Answer == Yes:
		a.Answer, a.Sentence = Yes, "It fits with the mark outward only. Turned round: "+first(t, t.Answer)+"."
	case t.Answer == Yes:
		a.Answer, a.Sentence = Yes, "It fits turned round only, the mark inward. Mark outward: "+first(m, m.Answer)+"."
	case m.Answer == No && t.Answer == No:
		a.Answer, a.Sentence = No, "It does not fit: "+first(m, No)+"."
	case m.Answer == No:
		a.Answer, a.Sentence = Ask, "With the mark outward it does not fit ("+first(m, No)+"). Turned round, look first: "+first(t, Ask)+"."
	case t.Answer == No:
		a.Answer, a.Sentence = Ask, "Turned round it does not fit ("+first(t, No)+"). Mark outward, look first: "+first(m, Ask)+"."
	default:
		a.Answer, a.Sentence = Ask, "Look first: "+first(m, Ask)+"."
	}
}

func both(a, b float64) bool { return a != 0 && b != 0 }

func (q *Question) teeth() Reason {
	r := Reason{ID: "teeth", Name: "Teeth", Answer: Ask, Text: "measure the module of both (over a few teeth), or compare them tooth in tooth"}
	g, s := q.Gear, q.Seat
	if both(g.Module, s.MateModule) {
		r.Answer, r.Text = Yes, fmt.Sprintf("module %s mm both", say.Trim(g.Module, 3))
		if math.Abs(g.Module-s.MateModule) > 0.01*s.MateModule {
			r.Answer, r.Text = No, fmt.Sprintf("module %s against %s mm: they don't mesh", say.Trim(g.Module, 3), say.Trim(s.MateModule, 3))
			return r
		}
	}
	if both(g.Pressure, s.MatePressure) && math.Abs(g.Pressure-s.MatePressure) > 0.5 {
		r.Answer, r.Text = No, fmt.Sprintf("pressure angle %s against %s°", say.Trim(g.Pressure, 1), say.Trim(s.MatePressure, 1))
	} else if r.Answer == Yes && !both(g.Pressure, s.MatePressure) {
		r.Answer = Ask
		r.Text += "; the pressure angle of both is still to be compared, tooth in tooth against the light"
	}
	return r
}

func (q *Question) helix() Reason {
	r := Reason{ID: "helix", Name: "Helix", Answer: Yes, Text: "both straight"}
	g, s := q.Gear, q.Seat
	switch {
	case g.Helix == 0 && s.MateHelix == 0:
	case g.Helix == 0 || s.MateHelix == 0:
		r.Answer, r.Text = No, "one is straight, the other helical"
	case math.Abs(g.Helix-s.MateHelix) > 0.5:
		r.Answer, r.Text = No, fmt.Sprintf("helix %s against %s°", say.Trim(g.Helix, 1), say.Trim(s.MateHelix, 1))
	case g.Hand == "" || s.MateHand == "":
		r.Answer, r.Text = Ask, "which hand? Side by side on parallel shafts one is left, the other right; turning a gear round does not change its hand"
	case g.Hand == s.MateHand:
		r.Answer, r.Text = No, fmt.Sprintf("both %s-handed: on parallel shafts they must be opposite, and turning it round changes nothing", g.Hand)
	default:
		r.Text = fmt.Sprintf("%s°, %s on %s", say.Trim(g.Helix, 1), g.Hand, s.MateHand)
	}
	return r
}

// center compares the distance of the shafts with (z1 + z2) · module ÷ (2 ·
// cos helix) (ISO 21771).
func (q *Question) center() Reason {
	r := Reason{ID: "center", Name: "Center distance", Answer: Ask, Text: "not given: compare tooth counts and outside diameter with the gear that came out"}
	g, s := q.Gear, q.Seat
	if g.Module == 0 || s.CenterMM == 0 {
		return r
	}
	want := float64(g.Teeth+s.MateTeeth) * g.Module / 2 / math.Cos(g.Helix*math.Pi/180)
	off := s.CenterMM - want
	r.Text = fmt.Sprintf("%d + %d teeth need %s mm, the centers are %s mm apart", g.Teeth, s.MateTeeth,
		say.Trim(want, 2), say.Trim(s.CenterMM, 2))
	switch {
	case math.Abs(off) <= 0.05*g.Module:
		r.Answer = Yes
	case math.Abs(off) <= 0.6*g.Module:
		r.Text += ": only with profile shift; is this the pair that belongs together?"
	case off > 0:
		r.Answer = No
		r.Text += ": the teeth don't reach"
	default:
		r.Answer = No
		r.Text += ": they don't go in"
	}
	return r
}

// counted compares how many there are of something and how large it is across;
// of one that is missing on both sides it says nothing.
func counted(r Reason, what string, gear, seat int, gearMM, seatMM float64, measure string) Reason {
	r.Answer = Yes
	switch {
	case gear == 0 && seat == 0:
		r.Text = "none on either"
	case gear == 0 || seat == 0:
		r.Answer, r.Text = Ask, "count the "+what+" of both"
	case gear != seat:
		r.Answer, r.Text = No, fmt.Sprintf("%d %s against %d", gear, what, seat)
	case both(gearMM, seatMM) && math.Abs(gearMM-seatMM) > 0.3:
		r.Answer, r.Text = No, fmt.Sprintf("%d %s both, %s against %s mm", gear, what, say.Trim(gearMM, 2), say.Trim(seatMM, 2))
	case !both(gearMM, seatMM):
		r.Answer, r.Text = Ask, fmt.Sprintf("%d %s both; %s", gear, what, measure)
	default:
		r.Text = fmt.Sprintf("%d %s, %s mm both", gear, what, say.Trim(gearMM, 2))
	}
	return r
}

func (q *Question) spline() Reason {
	g, s := q.Gear, q.Seat
	r := counted(Reason{ID: "spline", Name: "Spline"}, "splines", g.Splines, s.Splines, g.SplineMM, s.SplineMM, "measure across them: equal counts come in several sizes")
	if g.Splines == 0 && s.Splines == 0 && g.Bolts == 0 && s.Bolts == 0 {
		r.Answer, r.Text = Ask, "count the splines of gear and shaft"
	}
	return r
}

func (q *Question) bolts() Reason {
	g, s := q.Gear, q.Seat
	return counted(Reason{ID: "mount", Name: "Mounting"}, "bolts", g.Bolts, s.Bolts, g.CircleMM, s.CircleMM, "measure the bolt circle of both")
}

func (q *Question) width() Reason {
	r := Reason{ID: "width", Name: "Width", Answer: Ask, Text: "measure its width and the room that is there"}
	g, s := q.Gear, q.Seat
	if both(g.WidthMM, s.RoomMM) {
		r.Answer, r.Text = Yes, fmt.Sprintf("%s mm in %s mm of room", say.Trim(g.WidthMM, 2), say.Trim(s.RoomMM, 2))
		if g.WidthMM > s.RoomMM {
			r.Answer, r.Text = No, fmt.Sprintf("%s mm wide, and there is room for %s", say.Trim(g.WidthMM, 2), say.Trim(s.RoomMM, 2))
		}
	}
	return r
}

func (q *Question) wear() Reason {
	r := Reason{ID: "wear", Name: "New on worn", Answer: Yes, Text: "nothing worn"}
	g, s := q.Gear, q.Seat
	switch {
	case g.Worn == "" || s.MateWorn == "" || s.Worn == "":
		r.Answer, r.Text = Ask, "look at the teeth of both and at the spline or flange: a step that catches a fingernail is worn"
	case s.Worn == "worn":
		r.Answer, r.Text = No, "its seat is worn: a gear on a worn spline only moves the wear; renew both"
	case g.Worn == "worn":
		r.Answer, r.Text = No, "it is worn itself"
	case s.MateWorn == "worn":
		r.Answer, r.Text = No, "its mate is worn: teeth that ran in together are replaced together"
	case g.Worn == "new" && s.MateWorn == "used" || g.Worn == "used" && s.MateWorn == "new":
		r.Answer, r.Text = Ask, "new on used: quiet only if the used one has no step; gears that ran together should stay together"
	}
	return r
}

// face is how much of the teeth meets: turned round, the offset points the
// other way.
func (q *Question) face(side float64) (Reason, *float64) {
	r := Reason{ID: "face", Name: "Face and offset", Answer: Ask,
		Text: "measure the face width of both and how far each is from the middle of the seat"}
	g, s := q.Gear, q.Seat
	if !both(g.FaceMM, s.MateFaceMM) {
		return r, nil
	}
	at := side * g.OffsetMM
	low, high := math.Max(at-g.FaceMM/2, s.MateAtMM-s.MateFaceMM/2), math.Min(at+g.FaceMM/2, s.MateAtMM+s.MateFaceMM/2)
	overlap := say.Round(math.Max(0, high-low), 3)
	share := overlap / math.Min(g.FaceMM, s.MateFaceMM)
	r.Text = fmt.Sprintf("%s of %s mm of face meet", say.Trim(overlap, 2), say.Trim(math.Min(g.FaceMM, s.MateFaceMM), 2))
	switch {
	case share >= 0.9:
		r.Answer = Yes
	case share >= 0.6:
		r.Text += ": less than usual; was it so when it came out?"
	case overlap == 0:
		r.Answer, r.Text = No, "the teeth miss each other"
	default:
		r.Answer = No
		r.Text += ": the teeth meet on a sliver, and both gears are ruined"
	}
	return r, &overlap
}
