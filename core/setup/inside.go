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

// Side asks for the shims of a differential's side gears. A thicker one moves
// its gear toward the spiders and takes play away.
type Side struct {
	Teeth   int      `json:"teeth"` // of a side gear
	Mate    int      `json:"mate"`  // of a spider
	Unit    string   `json:"unit,omitempty"`
	Figures []Figure `json:"figures,omitempty"` // side_gear_play
	Left    []Played `json:"left"`              // in the order in which they were tried
	Right   []Played `json:"right"`
	Box     string   `json:"box,omitempty"`
}

// Played is a shim and the play that was measured with it.
type Played struct {
	Shim string `json:"shim"`
	Play string `json:"play"` // places, as ParsePlaces reads them
}

// SideAnswer is one side gear.
type SideAnswer struct {
	Side     string    `json:"side"`
	PlayMM   float64   `json:"play_mm"`
	State    string    `json:"state"` // in, low (tight) or high (loose)
	ShimMM   float64   `json:"shim_mm"`
	NextMM   *float64  `json:"next_mm,omitempty"`
	Pieces   []float64 `json:"pieces_mm"`
	Sentence string    `json:"sentence"`
}

// SideGears answers for both sides from one box.
type SideGearsAnswer struct {
	Sides []SideAnswer `json:"sides"`
	Band  string       `json:"band"`
	Law   float64      `json:"law"`
	Notes []string     `json:"notes"`
}

// SideGears judges the play of both side gears and says the next shims.
func SideGears(q Side) (*SideGearsAnswer, error) {
	var errs fault.Errors
	defaults(&q.Unit, typed.Millimeters)
	oneOf(&errs, "unit", &q.Unit, "the unit of figures that have none", typed.Millimeters, typed.Inches)
	m := backlash.Mesh{Teeth: q.Teeth, Mate: q.Mate}
	m.Check("", &errs)
	s := readSheet(q.Figures, "figures", &errs)
	band, ok := s.bands[FigureSidePlay]
	if !ok {
		errs.Add("figures", "the maker's range for side gear backlash is needed (side_gear_play)")
	}
	var box []shim.Shim
	if strings.TrimSpace(q.Box) != "" {
		var err error
		if box, err = shim.ParseBox(q.Box, q.Unit); err != nil {
			errs.Add("box", "%s", strings.TrimPrefix(err.Error(), "box: "))
		}
	}
	type side struct {
		name string
		list []Played
		at   []backlash.Trial
		last Pile
		told []string
	}
	sides := []side{{name: "left", list: q.Left}, {name: "right", list: q.Right}}
	for i := range sides {
		z := &sides[i]
		if len(z.list) == 0 || len(z.list) > MostTrials {
			errs.Add(z.name, "from 1 to %d shims that were tried", MostTrials)
		}
		for k, p := range z.list {
			at := fmt.Sprintf("%s/%d/", z.name, k)
			pile, problem := ParsePile(p.Shim, q.Unit)
			if problem != "" {
				errs.Add(at+"shim", "%s", problem)
			}
			places, told, problem := ParsePlaces(p.Play, q.Unit, false)
			a := around(places, 1, 0.01)
			if problem == "" && a.Counted == 0 {
				problem = "the play as measured, as 0.12 0.13 0.12"
			}
			if problem != "" {
				errs.Add(at+"play", "%s", problem)
			}
			z.at, z.last, z.told = append(z.at, backlash.Trial{ShimMM: pile.MM, BacklashMM: a.MeanMM}), pile, told
		}
	}
	if err := errs.Err(); err != nil {
		return nil, err
	}
	out := &SideGearsAnswer{Sides: []SideAnswer{}, Band: band.said(say.Unit(q.Unit)), Law: say.Round(m.Sensitivity(), 4),
		Notes: []string{"Too tight turns hard and overheats; loose clunks."}}
	for _, z := range sides {
		a, rest := q.side(z.name, z.at, z.last, m, band, box)
		for _, t := range z.told {
			out.Notes = append(out.Notes, say.Capital(z.name)+": "+t)
		}
		out.Sides, box = append(out.Sides, a), rest
	}
	return out, nil
}

func (q *Side) side(name string, trials []backlash.Trial, last Pile, m backlash.Mesh, band Band,
	box []shim.Shim) (SideAnswer, []shim.Shim) {
	u := say.Unit(q.Unit)
	now := trials[len(trials)-1]
	a := SideAnswer{Side: name, PlayMM: now.BacklashMM, ShimMM: last.MM, Pieces: []float64{}, State: place(now.BacklashMM, band.Low, band.High)}
	if a.State == "in" {
		a.Sentence = u.F("%s: %s mm, within %s. It stays.", say.Capital(name), u.Len(a.PlayMM), band.said(u))
		return a, box
	}
	l := backlash.Learn(m.Sensitivity(), backlash.ByLaw(backlash.LawSigma), -1, trials, 0.01)
	word := map[string]string{"low": "too tight", "high": "too loose"}[a.State]
	if l.Flipped {
		a.Sentence = fmt.Sprintf("%s: %s, and the last shim went the wrong way. Check that it is behind this gear.", say.Capital(name), word)
		return a, box
	}
	want := say.Round(math.Max(0, last.MM+((band.Low+band.High)/2-now.BacklashMM)/l.Slope), 4)
	next := say.Round(want, 2)
	if len(box) > 0 {
		all := shim.With(box, last.Pieces...)
		list, err := shim.Choose(all, []shim.Target{{WantMM: want, TolMM: (band.High - band.Low) / 4}}, 4)
		if err != nil || math.Abs(list[0].TotalMM-want) >= math.Abs(last.MM-want) {
			a.Sentence = u.F("%s: %s (%s mm), and the box makes nothing nearer to %s mm.", say.Capital(name), word, u.Len(a.PlayMM), u.Len(want))
			return a, box
		}
		next, a.Pieces, box = list[0].TotalMM, list[0].Pieces, shim.Without(all, list[0].Pieces)
	}
	a.NextMM = &next
	a.Sentence = u.F("%s: %s, %s mm. A shim of %s mm instead of %s; play then about %s mm.", say.Capital(name), word,
		u.Len(a.PlayMM), u.Len(next), u.Len(last.MM), u.Len(math.Max(0, now.BacklashMM+l.Slope*(next-last.MM))))
	return a, box
}

// Slip asks about a limited slip: its breakaway torque, and the shim of its
// clutch stack.
type Slip struct {
	Unit      string   `json:"unit,omitempty"`
	Figures   []Figure `json:"figures,omitempty"`   // breakaway_torque, clutch_clearance
	Breakaway string   `json:"breakaway,omitempty"` // one wheel grounded, the other turned
	Room      string   `json:"room,omitempty"`      // depth of the pocket
	Stack     string   `json:"stack,omitempty"`     // height of plates and gear, without the shim
	Shim      string   `json:"shim,omitempty"`      // that is in it
	Box       string   `json:"box,omitempty"`
}

// SlipAnswer is what they come to.
type SlipAnswer struct {
	Checks   []Check   `json:"checks"`
	ShimMM   *float64  `json:"shim_mm,omitempty"` // that brings the clearance to the middle of its band
	Pieces   []float64 `json:"pieces_mm"`
	Sentence string    `json:"sentence"`
	Notes    []string  `json:"notes"`
}

// LimitedSlip judges both.
//
//	clearance = room − stack − shim
func LimitedSlip(q Slip) (*SlipAnswer, error) {
	var errs fault.Errors
	defaults(&q.Unit, typed.Millimeters)
	oneOf(&errs, "unit", &q.Unit, "the unit of figures that have none", typed.Millimeters, typed.Inches)
	s := readSheet(q.Figures, "figures", &errs)
	t := rigidTorque(q.Breakaway, "breakaway", &errs)
	len1 := func(field, text string) float64 {
		v, _, problem := length(plain(text), q.Unit)
		if problem == "" && !(v > 0 && v <= 500) {
			problem = "above 0, up to 500 mm"
		}
		if problem != "" {
			errs.Add(field, "%s", problem)
		}
		return v
	}
	stacked := q.Room != "" || q.Stack != "" || q.Shim != ""
	if t == nil && !stacked {
		errs.Add("breakaway", "a breakaway torque, or the clutch stack's room, height and shim")
	}
	var room, height float64
	var pile Pile
	if stacked {
		room, height = len1("room", q.Room), len1("stack", q.Stack)
		var problem string
		if pile, problem = ParsePile(q.Shim, q.Unit); problem != "" {
			errs.Add("shim", "%s", problem)
		}
	}
	var box []shim.Shim
	if strings.TrimSpace(q.Box) != "" {
		var err error
		if box, err = shim.ParseBox(q.Box, q.Unit); err != nil {
			errs.Add("box", "%s", strings.TrimPrefix(err.Error(), "box: "))
		}
	}
	if err := errs.Err(); err != nil {
		return nil, err
	}
	a := &SlipAnswer{Checks: []Check{}, Pieces: []float64{}, Notes: []string{"Measured with one wheel grounded and the other turned steadily, the gearbox in neutral; the first jerk is not the figure."}}
	if t != nil {
		a.breakaway(*t, s)
	}
	if stacked {
		a.clearance(room, height, pile, s, box, say.Unit(q.Unit))
	}
	return a, nil
}

func (a *SlipAnswer) breakaway(t Torque, s sheet) {
	c := Check{ID: FigureBreakaway, Name: "Breakaway torque", State: "left_out", Value: t.Text, Text: "the maker's figure is not entered"}
	if b, ok := s.bands[FigureBreakaway]; ok {
		c.Band, c.From, c.State = b.words(), b.From, place(t.NM, b.Low, b.High)
		c.Text = map[string]string{"in": "within the range",
			"low":  "below the range: worn plates, a weak spring or the wrong oil",
			"high": "above the range: it drags in turns; the oil's additive, or the shim"}[c.State]
	}
	a.Checks = append(a.Checks, c)
	a.Sentence = fmt.Sprintf("Breakaway %s N·m: %s.", say.Trim(t.NM, 2), c.Text)
}

func (a *SlipAnswer) clearance(room, height float64, pile Pile, s sheet, box []shim.Shim, u say.Unit) {
	gap := say.Round(room-height-pile.MM, 4)
	c := Check{ID: FigureClutchGap, Name: "Clearance of the clutch stack", State: "left_out", Text: "the maker's figure is not entered",
		Value: u.F("%s − %s − %s = %s mm", u.Len(room), u.Len(height), u.Len(pile.MM), u.Len(gap))}
	b, ok := s.bands[FigureClutchGap]
	if ok {
		c.Band, c.From, c.State = b.said(u), b.From, place(gap, b.Low, b.High)
		c.Text = map[string]string{"in": "within the range", "low": "below the range: it never lets go",
			"high": "above the range: it can't bite"}[c.State]
	}
	a.Checks = append(a.Checks, c)
	if !ok || c.State == "in" {
		a.Sentence = strings.TrimSpace(a.Sentence + u.F(" Clearance %s mm: %s.", u.Len(gap), c.Text))
		return
	}
	want := say.Round(room-height-(b.Low+b.High)/2, 4)
	if want < 0 {
		a.Sentence = strings.TrimSpace(a.Sentence +
			u.F(" The stack is %s mm too high even without a shim: wrong or too many plates.", u.Len(-want)))
		return
	}
	next := say.Round(want, 2)
	if len(box) > 0 {
		if list, err := shim.Choose(shim.With(box, pile.Pieces...), []shim.Target{{WantMM: want, TolMM: (b.High - b.Low) / 2}}, 4); err == nil {
			next, a.Pieces = list[0].TotalMM, list[0].Pieces
		}
	}
	a.ShimMM = &next
	a.Sentence = strings.TrimSpace(a.Sentence +
		u.F(" Clearance %s mm: %s. A shim of %s mm instead of %s leaves %s mm.", u.Len(gap), c.Text,
			u.Len(next), u.Len(pile.MM), u.Len(room-height-next)))
}

// Runout asks how far a gear runs out on its own bearing.
type Runout struct {
	Readings string   `json:"readings"` // dial on the teeth over a pin, around the gear
	Unit     string   `json:"unit,omitempty"`
	Figures  []Figure `json:"figures,omitempty"` // gear_runout
	Pressure float64  `json:"pressure_deg,omitempty"`
}

// RunoutAnswer is what it comes to.
type RunoutAnswer struct {
	Around   Around   `json:"around"`
	TotalMM  float64  `json:"total_mm"` // greatest less least
	SwingMM  float64  `json:"swing_mm"` // of the backlash that follows
	Check    Check    `json:"check"`
	Sentence string   `json:"sentence"`
	Notes    []string `json:"notes"`
}

// GearRunout judges it: backlash swings by 2 · tan α times what the gear runs
// out radially.
func GearRunout(q Runout) (*RunoutAnswer, error) {
	var errs fault.Errors
	defaults(&q.Unit, typed.Millimeters)
	defaults(&q.Pressure, 20)
	oneOf(&errs, "unit", &q.Unit, "the unit of readings that have none", typed.Millimeters, typed.Inches)
	if !(q.Pressure >= 10 && q.Pressure <= 35) {
		errs.Add("pressure_deg", "from 10 to 35 degrees; 20 is common")
	}
	s := readSheet(q.Figures, "figures", &errs)
	places, told, problem := ParsePlaces(q.Readings, q.Unit, true)
	a := around(places, 1, 0.01)
	if problem == "" && a.Counted < 3 {
		problem = "at least three places around the gear, as 0 0.02 0.05 0.03"
	}
	if problem != "" {
		errs.Add("readings", "%s", problem)
	}
	if err := errs.Err(); err != nil {
		return nil, err
	}
	u := say.Unit(q.Unit)
	r := &RunoutAnswer{Around: a, TotalMM: say.Round(a.GreatestMM-a.LeastMM, 4), Notes: append([]string{"Run-out of the ring is measured apart from this: a gear on needles moves under load."}, told...)}
	r.SwingMM = say.Round(2*math.Tan(q.Pressure*math.Pi/180)*r.TotalMM, 4)
	c := Check{ID: FigureGearRunout, Name: "Radial run-out on its bearing", State: "left_out",
		Value: u.F("%s mm", u.Len(r.TotalMM)), Text: "the maker's figure is not entered"}
	if b, ok := s.bands[FigureGearRunout]; ok {
		c.Band, c.From, c.State = b.said(u), b.From, place(r.TotalMM, 0, b.High)
		c.Text = map[string]string{"in": "within the limit", "high": "above the limit: bearing or shaft is worn"}[c.State]
	}
	r.Check = c
	r.Sentence = u.F("It runs out by %s mm (%s); the backlash swings by about %s mm with it.", u.Len(r.TotalMM), c.Text, u.Len(r.SwingMM))
	return r, nil
}
