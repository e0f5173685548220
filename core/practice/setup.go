package practice

import (
	"fmt"
	"math"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/fault"
	"zorvel/core/say"
	"zorvel/core/setup"
)

// setupKind hides a housing: which shims bring backlash and pattern in?
func setupKind() kind {
	return kind{
		id: "setup", title: "Set up a ring and pinion",
		about: "Zero the dial, measure backlash, roll a pattern, move shims until it is in.",
		levels: []string{
			"The old shims, a true ring",
			"A ring that runs out a little",
			"A ring that may run out more than shims can cure",
		},
		draw: func(t Task) (hidden, error) { return newSetupUnit(t), nil },
	}
}

// Piles are the shims of an assembly, in all at each place, mm.
type Piles struct {
	Pinion float64 `json:"pinion"`
	Left   float64 `json:"left"`
	Right  float64 `json:"right"`
}

// Mesh is what dial and pattern show of an assembly.
type Mesh struct {
	Ring     int         `json:"ring"`
	Pinion   int         `json:"pinion"`
	Low      float64     `json:"low"` // backlash, mm
	High     float64     `json:"high"`
	Differs  float64     `json:"differs"` // at most, around the ring
	Thicker  string      `json:"thicker"` // in or out: where a thicker depth shim moves the pinion
	RingSide string      `json:"ring_side"`
	Piles    Piles       `json:"piles"`
	Zeroed   bool        `json:"zeroed"`
	Places   []string    `json:"places,omitempty"` // as the dial shows them
	Drive    *setup.Spot `json:"drive,omitempty"`
	Coast    *setup.Spot `json:"coast,omitempty"`
}

// Minutes at a set-up.
const (
	minutesZero     = 1.0
	minutesDial     = 5.0
	minutesPattern  = 6.0
	minutesAssemble = 40.0
)

// Answers to a set-up.
const (
	isIn   = "in"
	runOut = "run_out"
)

type setupUnit struct {
	task    Task
	housing *setup.Housing
	axle    setup.Axle
	in      setup.Stacks
	made    setup.Made // what this assembly shows, measured rightly
	trials  []setup.Made
	zeroed  bool
	off     float64 // what an unzeroed dial shows too much, mm
	dial    []string
	rolled  bool
	steps   []Finding
	wrong   []Mistake
}

func newSetupUnit(t Task) *setupUnit {
	u := &setupUnit{task: t, in: setup.First()}
	u.housing = housingOf(t)
	u.axle = u.housing.Question()
	u.made = u.housing.Assemble(u.in)
	u.off = 0.03 + 0.05*t.source("dial").Float64()
	return u
}

// housingOf draws the housing of a task; the same again each time.
func housingOf(t Task) *setup.Housing {
	r := t.source("unit")
	h := setup.Practice(r.Uint64())
	share := r.Float64()
	switch t.Level {
	case 1:
		h.Warp(0.004 * share)
	case 2:
		h.Warp(0.01 + 0.015*share)
	default:
		h.Warp(0.015)
		if share < 0.5 {
			h.Warp(0.06 + 0.04*share)
		}
	}
	return h
}

func (u *setupUnit) story() string {
	return fmt.Sprintf("A new %d/%d set in the old housing, with the shims that came out. Bring backlash to %s to "+
		"%s mm, no more than %s apart around the ring, and the pattern to mid-tooth.",
		u.axle.Ring, u.axle.Pinion, say.Trim(*u.axle.Figures[0].Low, 2), say.Trim(*u.axle.Figures[0].High,
			2), say.Trim(*u.axle.Figures[1].High, 2))
}

func (u *setupUnit) caution() string {
	return "A carrier is heavy and its bearings are spread: hands out from between, lift it straight. The maker's " +
		"figures decide."
}

func (u *setupUnit) asked() Asked {
	return Asked{Words: "Is it done?", Choices: []Choice{
		{isIn, "In spec: seal it up"}, {runOut, "No shim cures it: the ring runs out"},
	}}
}

func (u *setupUnit) driveline() *driveline.Document { return nil }

func (u *setupUnit) machine() *Machine {
	m := &Mesh{Ring: u.axle.Ring, Pinion: u.axle.Pinion, Low: *u.axle.Figures[0].Low, High: *u.axle.Figures[0].High,
		Differs: *u.axle.Figures[1].High,
		Thicker: u.axle.PinionThicker, RingSide: u.axle.RingSide, Zeroed: u.zeroed, Places: u.dial,
		Piles: Piles{total(u.in.Pinion), total(u.in.Left), total(u.in.Right)}}
	if u.rolled {
		m.Drive, m.Coast = u.made.Drive, u.made.Coast
	}
	return &Machine{Outputs: []Shaft{}, Mesh: m}
}

func total(pieces []float64) float64 {
	t := 0.0
	for _, p := range pieces {
		t += p
	}
	return say.Round(t, 3)
}

func (u *setupUnit) offers() []Offer {
	out := []Offer{}
	if !u.zeroed {
		out = append(out, Offer{Do: "zero", Group: inReady, Label: "Zero the dial on a tooth", Minutes: minutesZero})
	}
	if u.dial == nil {
		out = append(out, Offer{Do: "dial", Group: inLook, Label: "Measure backlash at eight places",
			Minutes: minutesDial})
	}
	if !u.rolled {
		out = append(out, Offer{Do: "pattern", Group: inLook, Label: "Paint and roll a pattern",
			Minutes: minutesPattern})
	}
	return append(out, Offer{Do: "assemble", Group: inTurn, Label: "Take it apart and fit other shims",
		Minutes: minutesAssemble, Takes: TakesStacks})
}

func (u *setupUnit) do(a Act) (Done, error) {
	switch a.Do {
	case "zero":
		u.zeroed = true
		return Done{Words: "Zeroed the dial", Minutes: minutesZero}, nil
	case "dial":
		return u.measure(), nil
	case "pattern":
		u.rolled = true
		u.tell()
		return Done{Words: "Rolled a pattern", Saw: "The pattern is drawn.", Minutes: minutesPattern}, nil
	}
	return u.assemble(a)
}

// measure reads the dial around the ring. A dial that wasn't zeroed shows too much.
func (u *setupUnit) measure() Done {
	d := Done{Words: "Measured backlash at eight places", Minutes: minutesDial}
	u.dial = []string{}
	for _, p := range strings.Fields(u.made.Backlash) {
		v := 0.0
		if _, err := fmt.Sscanf(p, "%g", &v); err != nil {
			continue
		}
		if !u.zeroed {
			v += u.off
		}
		u.dial = append(u.dial, fmt.Sprintf("%.2f", v))
	}
	d.Saw = strings.Join(u.dial, " ") + " mm."
	if !u.zeroed {
		d.Forgot = "The dial wasn't zeroed: every place reads too much by the same."
		u.wrong = append(u.wrong, Mistake{Words: d.Forgot})
	}
	u.tell()
	return d
}

// tell weighs the assembly once dial and pattern have been looked at.
func (u *setupUnit) tell() {
	if u.dial == nil || !u.rolled {
		return
	}
	m := u.made
	m.Backlash = strings.Join(u.dial, " ")
	m.Sure = true
	u.trials = append(u.trials, m)
	if v, err := u.judge(); err == nil {
		u.steps = append(u.steps, Finding{Words: fmt.Sprintf("Assembly %d: %s mm", len(u.trials), strings.Join(u.dial,
			" ")), Meaning: v.Sentence})
	}
}

func (u *setupUnit) judge() (*setup.Verdict, error) {
	q := u.axle
	q.Trials = u.trials
	return setup.Judge(q)
}

// Bounds of shims, mm.
const (
	leastPile = 0.1
	mostPile  = 4.0
)

// assemble fits other shims, and keeps what was wrong with the move for the review.
func (u *setupUnit) assemble(a Act) (Done, error) {
	if a.Stacks == nil {
		return Done{}, fault.New("stacks", "which shims go in?")
	}
	p := *a.Stacks
	for _, x := range []struct {
		name string
		mm   float64
	}{{"pinion", p.Pinion}, {"left", p.Left}, {"right", p.Right}} {
		if !(x.mm >= leastPile && x.mm <= mostPile) {
			return Done{}, fault.New("stacks/"+x.name, "from %s to %s mm in all", say.Trim(leastPile, 1),
				say.Trim(mostPile, 0))
		}
	}
	was := u.machine().Mesh.Piles
	u.moved(was, p)
	u.in = setup.Stacks{Pinion: []float64{p.Pinion}, Left: []float64{p.Left}, Right: []float64{p.Right}}
	u.made = u.housing.Assemble(u.in)
	u.zeroed, u.dial, u.rolled = false, nil, false
	return Done{Words: fmt.Sprintf("Fitted pinion %s, left %s, right %s mm", say.Trim(p.Pinion, 2), say.Trim(p.Left,
		2), say.Trim(p.Right, 2)), Minutes: minutesAssemble}, nil
}

// moved says what was wrong with a move: against what the trials so far told.
func (u *setupUnit) moved(was, is Piles) {
	if math.Abs(is.Left+is.Right-was.Left-was.Right) > 0.021 {
		u.wrong = append(u.wrong, Mistake{Words: fmt.Sprintf("The carrier shims went from %s to %s mm in all: that "+
			"changes the bearing preload. What one side gets the other gives.",
			say.Trim(was.Left+was.Right, 2), say.Trim(is.Left+is.Right, 2))})
	}
	if len(u.trials) == 0 {
		u.wrong = append(u.wrong, Mistake{Words: "Shims were changed before backlash and pattern were both known.",
			Drill: "pattern"})
		return
	}
	v, err := u.judge()
	if err != nil || v.Next == nil {
		return
	}
	for _, c := range v.Next.Changes {
		from, to := was.Pinion, is.Pinion
		if c.Place == "left" {
			from, to = was.Left, is.Left
		} else if c.Place == "right" {
			continue
		}
		if by := c.ToMM - c.FromMM; math.Abs(by) > 0.03 && (to-from)*by < 0 {
			u.wrong = append(u.wrong, Mistake{fmt.Sprintf("The %s shims went the wrong way. %s.", c.Place,
				strings.TrimSuffix(v.Next.Head, ".")), "pattern"})
		}
	}
}

func (u *setupUnit) review(a Act, log []Done) (*Review, error) {
	cure := u.housing.Warped() > *u.axle.Figures[1].High
	truth, answer := isIn, a.Answer
	words := map[string]string{isIn: "in spec", runOut: "run-out that no shim cures"}
	said := "in spec"
	is := u.housing.Reached(u.in)
	switch {
	case cure:
		truth, said = runOut, words[runOut]
	case !is:
		truth, said = "", "not in spec yet"
	}
	r := &Review{Right: answer == truth, Truth: said, Answer: words[answer], Steps: u.steps, Best: []Finding{},
		Mistakes: u.wrong}
	if r.Steps == nil {
		r.Steps = []Finding{}
	}
	if r.Mistakes == nil {
		r.Mistakes = []Mistake{}
	}
	if answer == isIn && len(u.steps) == 0 {
		r.Mistakes = append(r.Mistakes, Mistake{Words: "Called done without measuring both backlash and pattern."})
	}
	var err error
	r.Cheapest, r.Best, err = u.cheapest(cure)
	return r, err
}

// mostAssemblies bounds the search.
const mostAssemblies = 10

// cheapest is the way of whichever needs fewer assemblies: the moves that the bench says, or
// a rule of thumb. Where the ring runs out, one measurement around it tells.
func (u *setupUnit) cheapest(cure bool) (float64, []Finding, error) {
	once := minutesZero + minutesDial
	if cure {
		return once, []Finding{{"Zeroed the dial and measured around the ring",
			"The places differ by more than is allowed, whatever the shims.", once}}, nil
	}
	once += minutesPattern
	n, err := newSetupUnit(u.task).follow()
	if err != nil {
		return 0, nil, err
	}
	if m, ok := housingOf(u.task).Thumb(); ok && m < n {
		n = m
	}
	minutes := float64(n)*once + float64(n-1)*minutesAssemble
	what, told := "Dial zeroed, backlash and pattern measured", "In spec as it came."
	if n > 1 {
		what += fmt.Sprintf("; %s of shims fitted", say.Count(n-1, "other set"))
		told = "Each move as the set-up bench says."
	}
	return minutes, []Finding{{what, told, minutes}}, nil
}

// follow makes the moves that the bench says until it is in, and counts the assemblies.
func (u *setupUnit) follow() (int, error) {
	for n := 1; ; n++ {
		for _, do := range []string{"zero", "dial", "pattern"} {
			if _, err := u.do(Act{Do: do}); err != nil {
				return n, err
			}
		}
		v, err := u.judge()
		if err != nil || v.Next == nil || n == mostAssemblies {
			return n, err
		}
		p := u.machine().Mesh.Piles
		for _, c := range v.Next.Changes {
			*map[string]*float64{"pinion": &p.Pinion, left: &p.Left, right: &p.Right}[c.Place] = c.ToMM
		}
		if _, err := u.do(Act{Do: "assemble", Stacks: &p}); err != nil {
			return n, err
		}
	}
}
