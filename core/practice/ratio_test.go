package practice

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"
	"testing"

	"zorvel/core/driveline"
	"zorvel/core/driveline/trace"
	"zorvel/core/exact"
	"zorvel/core/identify"
)

func unit(t *testing.T, level int, seed uint32) *ratioUnit {
	t.Helper()
	u, err := newRatioUnit(Task{"ratio", level, seed})
	if err != nil {
		t.Fatal(err)
	}
	return u
}

// onStands is a unit that is ready to be turned.
func onStands(u *ratioUnit) *ratioUnit {
	u.ready = ready{chocked: true, keyOut: true, stands: true, neutral: true, brakeOff: true, engaged: true,
		propOff: true, marked: true,
		up: map[string]bool{left: true, right: true}}
	u.slack = false
	return u
}

// What the drawn axle does is what the driveline's own equations give: with a wheel held,
// and with both turned alike.
func TestTurningFollowsTheDriveline(t *testing.T) {
	l := driveline.Layouts()
	i := slices.IndexFunc(l, func(l driveline.Layout) bool { return l.ID == "loose_axle" })
	d := l[i].Document
	axle := *d.Parts[0].Axle
	d.Parts[0].Axle = &axle
	for seed := range uint32(20) {
		u := onStands(unit(t, 2, seed))
		axle.Ring, axle.Pinion, axle.Differential = u.teeth[0], u.teeth[1], driveline.Differential{Type: "open"}
		u.ready.held = right
		p, why := u.moves(left)
		if why != "" {
			t.Fatal(why)
		}
		a, err := trace.Run(&d, driveline.State{Hold: []string{"rear.right"},
			Input: &driveline.Input{Shaft: "rear.left", Turns: exact.Figure{Number: exact.Int(1)}}}, trace.Want{})
		if err != nil {
			t.Fatal(err)
		}
		for _, s := range a.Shafts {
			if s.ID == "rear.in" && (s.Speed == nil || math.Abs(math.Abs(s.Speed.Float())-p.input) > 1e-9) {
				t.Errorf("%v: the flange makes %v, drawn %v", u.teeth, s.Speed, p.input)
			}
		}
		u.ready.held = ""
		if p, _ := u.moves(both); math.Abs(p.input-u.ratio) > 1e-9 {
			t.Errorf("both wheels once: %v, ratio %v", p.input, u.ratio)
		}
	}
}

// A differential that is open averages: whatever the other wheel does, the flange follows
// the mean.
func TestTheFlangeFollowsTheMeanOfBothWheels(t *testing.T) {
	for level := 1; level <= 5; level++ {
		for seed := range uint32(30) {
			u := onStands(unit(t, level, seed))
			if !u.wheels() {
				continue
			}
			for _, on := range []string{left, right, both} {
				for _, held := range []string{"", left, right} {
					u.ready.held = held
					p, why := u.moves(on)
					if why == "" && math.Abs(p.input-u.ratio*(p.left+p.right)/2) > 1e-9 {
						t.Fatalf("level %d, seed %d, turning %s, %s held: %+v at %v", level, seed, on, held, p, u.ratio)
					}
				}
			}
		}
	}
}

func TestLevelsBringWhatTheySay(t *testing.T) {
	count := map[string]int{}
	for level := 1; level <= 5; level++ {
		for seed := range uint32(60) {
			u := unit(t, level, seed)
			at := strconv.Itoa(level)
			if u.tagLies {
				count["lies "+at]++
			}
			if u.diff == limitedSlip {
				count["slip "+at]++
			}
			if u.stuck != "" {
				count["stuck "+at]++
			}
			count[string(u.stage.Kind)+" "+at]++
		}
	}
	for what, want := range map[string]bool{"lies 1": false, "lies 2": true, "lies 3": true, "slip 1": false,
		"slip 2": false, "slip 3": true, "stuck 3": false,
		"stuck 4": true, "two_stage 4": true, "two_stage 3": false, "transfer_case 5": true, "gearcase " +
			"5": true, "gearcase 4": false, "ring_and_pinion 1": true} {
		if count[what] > 0 != want {
			t.Errorf("%s: %d of 60", what, count[what])
		}
	}
	if count["lies 3"] < 50 {
		t.Errorf("level 3 has a lying tag %d times of 60", count["lies 3"])
	}
}

// Play is lost once, and not again after it was taken up.
func TestPlay(t *testing.T) {
	u := onStands(unit(t, 3, 1))
	u.diff, u.stuck, u.slack = openDiff, "", true
	turn := func(n float64) float64 {
		was := u.at.input
		if _, err := u.turn(Act{Do: "turn", On: both, Turns: n}); err != nil {
			t.Fatal(err)
		}
		return u.at.input - was
	}
	if got := turn(1); math.Abs(got-(u.ratio-u.play)) > 1e-9 {
		t.Errorf("the first turn makes %v, want %v less the play %v", got, u.ratio, u.play)
	}
	if got := turn(1); math.Abs(got-u.ratio) > 1e-9 {
		t.Errorf("the second makes %v", got)
	}
	u.slack = true
	if d, err := u.do(Act{Do: "rock"}); err != nil || !strings.Contains(d.Saw, fmt.Sprintf("about %.0f degrees", 360*u.play)) {
		t.Errorf("rocked: %+v %v", d, err)
	}
	if got := turn(1); math.Abs(got-u.ratio) > 1e-9 {
		t.Errorf("after rocking it makes %v", got)
	}
}

// Each mistake is told for what it was.
func TestMistakesAreNamed(t *testing.T) {
	for _, c := range []struct {
		name       string
		wheels     [2]float64 // noted, where both turned four
		off        float64
		says, help string
	}{
		{"right", [2]float64{4, 4}, 0, "", ""},
		{"a good eye", [2]float64{4, 4}, 0.08, "", ""},
		{"a turn lost", [2]float64{4, 4}, -1, "1 turn lost", "interruptions"},
		{"two lost", [2]float64{4, 4}, -2, "2 turns lost", "interruptions"},
		{"one too many", [2]float64{4, 4}, 1, "1 turn too many", "interruptions"},
		{"misjudged", [2]float64{4, 4}, 0.3, "misjudged", "remainder"},
		{"a wheel taken for held", [2]float64{4, 0}, 0, "written down as still", "wheels"},
		{"wheels miscounted", [2]float64{4, 3}, 0, "right wheel turned 4, and 3", "wheels"},
	} {
		u := onStands(unit(t, 1, 5))
		u.tag, u.tagLies = "", false
		if _, err := u.turn(Act{Do: "turn", On: both, Turns: 4}); err != nil {
			t.Fatal(err)
		}
		if _, err := u.note(Act{Do: "note", On: "turns", Note: noteOf(u, c.wheels[0], c.wheels[1],
			4*u.ratio+c.off)}); err != nil {
			t.Fatal(err)
		}
		m := u.read[0].mistake
		switch {
		case c.says == "" && m != nil:
			t.Errorf("%s: %s", c.name, m.Words)
		case c.says != "" && (m == nil || !strings.Contains(m.Words, c.says) || m.Drill != c.help):
			t.Errorf("%s: %+v, want %q", c.name, m, c.says)
		}
	}
}

func TestTheTagIsReadIntoThePartialTurn(t *testing.T) {
	u := onStands(unit(t, 3, 2))
	u.tag, u.tagLies = strconv.FormatFloat(u.ratio+0.3, 'f', 2, 64), true
	u.diff, u.stuck = openDiff, ""
	if _, err := u.turn(Act{Do: "turn", On: both, Turns: 1}); err != nil {
		t.Fatal(err)
	}
	if _, err := u.note(Act{Do: "note", On: "turns", Note: noteOf(u, 1, 1, u.ratio+0.3)}); err != nil {
		t.Fatal(err)
	}
	if m := u.read[0].mistake; m == nil || !strings.Contains(m.Words, "as the tag has it") {
		t.Errorf("%+v", m)
	}
}

func TestCountedTeethAreHeldAgainstTheGears(t *testing.T) {
	for off, want := range map[int]string{0: "", 1: "start tooth twice", -1: "one was missed", 10: "mark every ten"} {
		u := onStands(unit(t, 1, 5))
		u.ready.open = true
		counts := identify.Counts{{Member: "ring", Count: u.teeth[0] + off}, {Member: "pinion", Count: u.teeth[1]}}
		if _, err := u.note(Act{Do: "note", On: "teeth", Note: &identify.Reading{Method: identify.Teeth,
			Teeth: counts}}); err != nil {
			t.Fatal(err)
		}
		m := u.read[0].mistake
		if want == "" && m != nil || want != "" && (m == nil || !strings.Contains(m.Words, want)) {
			t.Errorf("%+d: %+v", off, m)
		}
	}
}

// The cheapest way of small units is the cheapest of every set of up to three readings, and
// of what who always takes the recommended reading comes to.
func TestTheCheapestWay(t *testing.T) {
	cost := func(u *ratioUnit, list []clean) float64 {
		wrong, err := u.wrong(list)
		if err != nil {
			t.Fatal(err)
		}
		return u.takes(list) + wrong*minutesWrong
	}
	for _, x := range []struct {
		level int
		seed  uint32
	}{{1, 1}, {1, 2}, {2, 4}, {3, 6}, {3, 9}, {5, 1}, {5, 2}, {5, 11}} {
		u := unit(t, x.level, x.seed)
		if n, _ := u.sp.Size(); n > manyBuilds {
			continue
		}
		best, minutes, err := u.cheapest()
		if err != nil {
			t.Fatal(err)
		}
		least := cost(u, best)
		if math.Abs(minutes-u.takes(best)) > 1e-9 || least >= minutesWrong {
			t.Errorf("%v: %v minutes, %v in all", x, minutes, least)
		}
		all := u.cleans()
		for i := range all {
			for k := i; k < len(all); k++ {
				for m := k; m < len(all); m++ {
					of := slices.Compact([]int{i, k, m})
					tag := u.tag != "" && slices.Contains(of, 0)
					if len(of) == 3 && !tag || u.takes(pick(all, of)) >= least {
						continue
					}
					if c := cost(u, pick(all, of)); c < least-1e-9 {
						t.Errorf("%v: %v costs %v, the cheapest way %v", x, of, c, least)
					}
				}
			}
		}
		if c := cost(u, u.recommended(t, all)); c < least-1e-9 {
			t.Errorf("%v: always the recommended reading costs %v, the cheapest way %v", x, c, least)
		}
	}
}

// recommended takes the reading that the bench recommends, as long as it is worth its
// minutes; what the unit can't give is passed over.
func (u *ratioUnit) recommended(t *testing.T, all []clean) []clean {
	t.Helper()
	var list []clean
	best, least := list, minutesWrong
	for range 3 {
		rs := make([]identify.Reading, len(list))
		for i, c := range list {
			rs[i] = c.reading
		}
		a, err := identify.Assess(u.sp, rs)
		if err != nil {
			t.Fatal(err)
		}
		found := false
		for _, o := range a.Next(identify.SettleLabel, identify.Situation{NoTag: u.tag == "",
			NoTurns: u.stuck != ""}).Options {
			i := slices.IndexFunc(all, func(c clean) bool {
				return c.reading.Method == o.Method && !slices.ContainsFunc(list,
					func(x clean) bool { return x.words == c.words }) &&
					(o.By == "" || c.needs == needSides && strings.Contains(c.words,
						" "+strconv.Itoa(o.OutputTurns)+" turn"))
			})
			if i >= 0 {
				list, found = append(slices.Clone(list), all[i]), true
				break
			}
		}
		if !found {
			break
		}
		wrong, err := u.wrong(list)
		if err != nil {
			t.Fatal(err)
		}
		if c := u.takes(list) + wrong*minutesWrong; c < least {
			best, least = list, c
		}
	}
	return best
}

// points is what a learner earns on the mean, over units of levels 2 and 3.
func points(t *testing.T, l Learner, units uint32) float64 {
	t.Helper()
	r, sum := rand.New(rand.NewPCG(4, 7)), 0.0
	for seed := range units {
		task := Task{"ratio", 2 + int(seed%2), seed}
		acts, err := l.Play(task, r)
		if err != nil {
			t.Fatal(err)
		}
		sum += float64(scene(t, task, acts...).Review.Score.Total)
	}
	return sum / float64(units)
}

// Learners are ranked as they are: fewer slips earn more, forgotten cautions and orders by
// the tag less, and guessing next to nothing.
func TestLearnersAreRankedAsTheyAre(t *testing.T) {
	list := []struct {
		name string
		Learner
	}{
		{"old hand", Learner{Lost: 0.01, Eye: 0.03}},
		{"good", Learner{Lost: 0.08, Eye: 0.06}},
		{"careless", Learner{Lost: 0.08, Eye: 0.06, Careless: true}},
		{"loses count", Learner{Lost: 0.35, Eye: 0.12}},
		{"by the tag", Learner{Lost: 0.35, Eye: 0.12, Trust: 1}},
	}
	last := 101.0
	for _, l := range list {
		got := points(t, l.Learner, 24)
		t.Logf("%s: %.0f", l.name, got)
		if got > last-3 {
			t.Errorf("%s earns %.0f, the one before %.0f", l.name, got, last)
		}
		last = got
	}
	if got := points(t, Learner{Guesses: true}, 12); got > 10 {
		t.Errorf("guessing earns %.0f", got)
	}
}

// Who says he is certain, whatever he read, earns less than who says what his readings
// come to.
func TestBluffingCosts(t *testing.T) {
	honest, bluff := points(t, Learner{Lost: 0.3, Eye: 0.15}, 24), points(t, Learner{Lost: 0.3, Eye: 0.15,
		Bluffs: true}, 24)
	if bluff > honest-2 {
		t.Errorf("honest %.0f, bluffing %.0f", honest, bluff)
	}
}

// A learner gets along with every unit of every level.
func TestLearnersWorkEveryLevel(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 1))
	for level := 1; level <= 5; level++ {
		right := 0
		for seed := range uint32(5) {
			task := Task{"ratio", level, seed}
			acts, err := Learner{Eye: 0.03}.Play(task, r)
			if err != nil {
				t.Fatalf("%v: %v", task, err)
			}
			if scene(t, task, acts...).Review.Right {
				right++
			}
		}
		if right < 3 {
			t.Errorf("level %d: %d of 5", level, right)
		}
	}
}
