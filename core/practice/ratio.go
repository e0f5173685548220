package practice

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strconv"
	"sync"

	"zorvel/core/driveline"
	"zorvel/core/identify"
)

// ratioKind hides gears in a housing: which ratio is it?
func ratioKind() kind {
	return kind{
		id: "ratio", title: "Which ratio is in it?",
		about: "Chock, lift, turn, count and order. A wrong set costs a thousand dollars.",
		levels: []string{
			"One clean axle: open differential, common gears, an honest tag where there is one",
			"A worn tag, a wheel that creeps, more play",
			"Swapped gears under an old tag, and sometimes a limited slip",
			"A seized brake, a two-stage axle, gears seldom met",
			"Anything: axle, transfer case low range, gearcase",
		},
		draw: func(t Task) (hidden, error) { return newRatioUnit(t) },
	}
}

// Sides and shafts of a unit.
const (
	left   = "left"
	right  = "right"
	both   = "both"
	output = "output"
	input  = "input"
)

// Differentials.
const (
	openDiff    = "open"
	limitedSlip = "limited_slip"
)

// ratioUnit is a housing with gears that nobody has seen.
type ratioUnit struct {
	task  Task
	own   *Own // a teacher's; nil where it was drawn
	stage identify.Stage
	sp    *identify.Space
	con   identify.Construction
	teeth []int
	ratio float64
	label string

	tag     string // what it says; empty where there is none
	tagLies bool
	stamp   string
	diff    string
	stuck   string  // the side whose brake is seized
	creep   float64 // what the other wheel does for each turn of one, both up, none held
	play    float64 // turns of the input before it follows

	ready ready
	at    place // turns since it came in
	mark  place // where the chalk marks were made
	slack bool  // the play is open: the input lags when it is turned next
	read  []noted
}

// ready is what was done to the unit before it is turned or looked into.
type ready struct {
	chocked, keyOut, stands, neutral, brakeOff, engaged, propOff bool
	marked, open, toothMarked, tagSeen, stampSeen                bool
	up                                                           map[string]bool
	held                                                         string
}

// place is how far the shafts have gone round. At a stage without wheels, right is its
// output.
type place struct{ left, right, input float64 }

// noted is a reading as the learner wrote it, beside what it would have been.
type noted struct {
	reading identify.Reading
	mistake *Mistake
}

// drawnFrom is what gears are drawn from, and weighed in: enumerated once, since a two-stage
// axle has some 300,000 builds.
type drawnFrom struct{ all, common *identify.Space }

var spaces sync.Map

func spaceOf(st identify.Stage) (drawnFrom, error) {
	if sp, ok := spaces.Load(st.Normal()); ok {
		return sp.(drawnFrom), nil
	}
	sp, err := identify.NewSpace(st.Normal())
	if err != nil {
		return drawnFrom{}, err
	}
	d := drawnFrom{sp, sp}
	if st.Kind == identify.RingAndPinion { // the others are drawn from all that can be built
		d.common = sp.In(identify.OnlyCommon)
	}
	spaces.Store(st.Normal(), d)
	return d, nil
}

// stageOf is what sort of housing a level brings.
func stageOf(level int, r *rand.Rand) identify.Stage {
	axle := identify.Stage{Kind: identify.RingAndPinion}
	switch u := r.Float64(); {
	case level == 4 && u < 0.4:
		return identify.Stage{Kind: identify.TwoStage}
	case level == 5 && u < 0.35:
		return identify.Stage{Kind: identify.TransferCase, Position: "low"}
	case level == 5 && u < 0.7:
		return identify.Stage{Kind: identify.Gearcase}
	}
	return axle
}

func newRatioUnit(t Task) (*ratioUnit, error) {
	r := t.source("unit")
	u := &ratioUnit{task: t, stage: stageOf(t.Level, r), slack: true, ready: ready{up: map[string]bool{}},
		diff: openDiff}
	from, err := spaceOf(u.stage)
	if err != nil {
		return nil, err
	}
	u.sp = from.all
	truths := from.all
	if t.Level < 4 {
		truths = from.common
	}
	gears := truths.Draw(r)
	if err := u.build(gears); err != nil {
		return nil, err
	}
	other := truths.Draw(r)
	u.written(t.Level, other, r)
	u.troubles(t.Level, r)
	return u, nil
}

// build puts gears in.
func (u *ratioUnit) build(e identify.CatalogEntry) error {
	u.con, _ = u.sp.Construction(e.Construction)
	u.teeth = e.Teeth
	x, err := identify.EntryRatio(u.stage, e)
	if err != nil {
		return err
	}
	u.ratio, u.label = math.Abs(x.Float()), x.Abs().Label()
	return nil
}

// written is what tag and stamp say. A tag outlives its gears.
func (u *ratioUnit) written(level int, other identify.CatalogEntry, r *rand.Rand) {
	lies := map[int]float64{1: 0, 2: 0.25, 3: 1, 4: 0.5, 5: 0.5}[level]
	hasTag := r.Float64() < 0.6 || level == 3
	stale := r.Float64() < lies
	if hasTag && u.stage.Kind != identify.Gearcase {
		u.tag = u.label
		if x, err := identify.EntryRatio(u.stage, other); stale && err == nil {
			u.tag = x.Abs().Label()
		}
		u.tagLies = u.tag != u.label
	}
	if len(u.teeth) == 2 {
		stamp := strconv.Itoa(u.teeth[0]) + "-" + strconv.Itoa(u.teeth[1])
		if _, err := identify.ParseMark(stamp, u.stage); err == nil {
			u.stamp = stamp
		}
	}
}

// troubles are what makes turning it harder than it looks.
func (u *ratioUnit) troubles(level int, r *rand.Rand) {
	u.play = 0.005 + 0.01*float64(level)*r.Float64()
	u.creep = -0.05 - 0.1*r.Float64() // the other wheel runs a little backward
	limited, stuck := r.Float64(), r.Float64()
	side := []string{left, right}[r.IntN(2)]
	if level >= 2 {
		u.creep = 0.5*r.Float64() - 0.35
	}
	if level >= 3 && limited < 0.35 {
		u.diff = limitedSlip
	}
	if level >= 4 && stuck < 0.6 && u.diff == openDiff {
		u.stuck = side
	}
}

// wheels reports whether two wheels are turned, and not one output.
func (u *ratioUnit) wheels() bool {
	return u.stage.Kind == identify.RingAndPinion || u.stage.Kind == identify.TwoStage
}

func (u *ratioUnit) boat() bool { return u.stage.Kind == identify.Gearcase }

func (u *ratioUnit) story() string {
	if u.own != nil {
		return u.own.Story
	}
	r := u.task.source("story")
	who := []string{"forestry truck Havre 4", "rescue van Tern 2", "flatbed Skarv 7", "tractor unit Lom 1"}[r.IntN(4)]
	switch {
	case u.boat():
		return "Skiff Kittiwake is on its trailer. The owner wants a second gearcase of the same ratio: which is it?"
	case u.stage.Kind == identify.TransferCase:
		return fmt.Sprintf("The %s needs a spare transfer case. Which low range ratio is in this one?", who)
	case u.stage.Kind == identify.TwoStage:
		return fmt.Sprintf("The rear axle of %s has a second reduction in the housing. Which ratio is it in all?", who)
	}
	return fmt.Sprintf("The %s comes in for a new ring and pinion like the old one. Which ratio is in its rear axle?",
		who)
}

func (u *ratioUnit) caution() string {
	if u.boat() {
		return "Key and lanyard out before a hand goes near the propeller. Turn the driveshaft the engine's way only."
	}
	return "Chock the wheels that stay down: in neutral it rolls. Nobody under it before it is on jack stands. The " +
		"maker's manual decides where to lift."
}

func (u *ratioUnit) asked() Asked {
	what := "Which ratio do you order?"
	if u.stage.Kind == identify.TransferCase {
		what = "Which low range ratio do you order?"
	}
	return Asked{Words: what, Example: "4.10"}
}

func (u *ratioUnit) driveline() *driveline.Document { return nil }

// machine is what is drawn. A gear is drawn once the housing is open.
func (u *ratioUnit) machine() *Machine {
	m := &Machine{Chocked: u.ready.chocked, Stands: u.ready.stands}
	shaft := func(id, name string, at float64) Shaft {
		return Shaft{ID: id, Name: name, At: roundTurns(at), Marked: u.ready.marked, Held: u.ready.held == id,
			Lifted: u.ready.up[id]}
	}
	if u.wheels() {
		m.Outputs = []Shaft{shaft(left, "Left wheel", u.at.left), shaft(right, "Right wheel", u.at.right)}
		m.Input = shaft(input, "Flange", u.at.input)
	} else {
		out, in := "Output", "Input"
		if u.boat() {
			out, in = "Propeller shaft", "Driveshaft"
		}
		m.Outputs, m.Input = []Shaft{shaft(output, out, u.at.right)}, shaft(input, in, u.at.input)
	}
	if u.ready.open {
		worn := u.task.source("worn")
		for i, g := range u.con.Teeth {
			m.Gears = append(m.Gears, Gear{Member: g.Name, Name: g.Words, Teeth: u.teeth[i], Worn: worn.Uint32(),
				Marked: u.ready.toothMarked})
		}
	}
	return m
}

// roundTurns keeps a place fit for drawing.
func roundTurns(v float64) float64 { return math.Round(v*1e4) / 1e4 }
