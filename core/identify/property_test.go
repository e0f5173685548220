package identify

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"
)

// pairsInAxles are pairs that are met in axles.
var pairsInAxles = [][2]int{{41, 10}, {41, 11}, {37, 9}, {39, 11}, {43, 11}, {41, 9}, {47, 9}, {39, 8}, {43, 12}, {37, 10}}

// honest are readings of a pair, each right within what its method can tell.
func honest(r *rand.Rand, ring, pinion int) []Reading {
	exact := float64(ring) / float64(pinion)
	turns := func(wheels int) Reading {
		whole, part := math.Modf(exact * float64(wheels))
		tenths := math.Round(part*10) / 10
		return Reading{Method: Turns, Turns: &TurnsReading{Left: Wheel{float64(wheels), true}, Right: Wheel{float64(wheels), true},
			Shaft: Shaft{Whole: int(whole), Remainder: Remainder{By: ByEye, Fraction: math.Min(tenths, 0.9)}}}}
	}
	all := []Reading{turns(1), turns(2), turns(4), counted(ring, pinion), tagged(fmt.Sprintf("%.2f", exact)), stamped(fmt.Sprintf("%d %d", ring, pinion))}
	r.Shuffle(len(all), func(i, k int) { all[i], all[k] = all[k], all[i] })
	return all
}

// Readings have no order: any order gives the same probabilities.
func TestOrderOfReadingsIsNothing(t *testing.T) {
	sp := space(t, axle)
	r := rand.New(rand.NewPCG(4, 4))
	for _, z := range pairsInAxles {
		list := honest(r, z[0], z[1])[:4]
		for i := range list {
			list[i].ID = fmt.Sprint("r", i)
		}
		first := assess(t, sp, list...).Verdict()
		for range 4 {
			r.Shuffle(len(list), func(i, k int) { list[i], list[k] = list[k], list[i] })
			again := assess(t, sp, list...).Verdict()
			if again.State != first.State || again.Best.Build.Ratio != first.Best.Build.Ratio || len(again.Candidates) != len(first.Candidates) {
				t.Fatalf("%v: %s %v, in another order %s %v", z, first.State, first.Best.Build, again.State, again.Best.Build)
			}
			for i, c := range first.Candidates {
				if math.Abs(again.Candidates[i].Probability-c.Probability) > 1e-9 {
					t.Errorf("%v: candidate %d is %v, in another order %v", z, i, c.Probability, again.Candidates[i].Probability)
				}
			}
		}
	}
}

// Probabilities are probabilities: none below zero, together no more than one
// and nearly all of it (those under 0.1 % aren't listed), sorted, and a label is the sum of its builds.
func TestVerdictsAddUp(t *testing.T) {
	sp := space(t, axle)
	r := rand.New(rand.NewPCG(12, 9))
	for n := range 60 {
		z := pairsInAxles[n%len(pairsInAxles)]
		v := assess(t, sp, honest(r, z[0], z[1])[:1+r.IntN(5)]...).Verdict()
		sum, last := 0.0, 1.0
		for _, c := range v.Candidates {
			if c.Probability < 0 || c.Probability > last+1e-12 {
				t.Errorf("draw %d: %v after %v", n, c.Probability, last)
			}
			last = c.Probability
			sum += c.Probability
		}
		if sum > 1+1e-9 {
			t.Errorf("draw %d: candidates make %v", n, sum)
		}
		labels, before := 0.0, 1.0
		for _, l := range v.Labels {
			if l.Probability > before+1e-12 {
				t.Errorf("draw %d: labels aren't sorted", n)
			}
			before = l.Probability
			labels += l.Probability
		}
		if labels > 1+1e-9 || labels < 0.9 {
			t.Errorf("draw %d: labels make %v", n, labels)
		}
		if h := v.Headline; v.Label == nil {
			if h.Label != "" || h.Text == "" || h.Range.Low > h.Range.High {
				t.Errorf("draw %d: no label stands, and the headline is %+v", n, h)
			}
			continue
		}
		if sure(v) < 0.5 || v.Best.Build.Ratio.Label() != label(v) {
			t.Errorf("draw %d: %s stands with %v, its best build is %v", n, label(v), sure(v), v.Best.Build)
		}
		if sure(v) < v.Best.Probability-1e-9 {
			t.Errorf("draw %d: the label (%v) is less sure than one of its builds (%v)", n, sure(v), v.Best.Probability)
		}
	}
}

// Honest readings lead to the truth, and more of them never lead away for good.
func TestHonestReadingsFindTheTruth(t *testing.T) {
	sp := space(t, axle)
	r := rand.New(rand.NewPCG(2, 71))
	for n := range 40 {
		z := pairsInAxles[n%len(pairsInAxles)]
		want := fmt.Sprintf("%.2f", float64(z[0])/float64(z[1]))
		list := honest(r, z[0], z[1])
		v := assess(t, sp, list...).Verdict()
		if v.State != Measured || label(v) != want || sure(v) < 0.99 {
			t.Errorf("%v with all six: %s %s with %v", z, v.State, label(v), sure(v))
		}
		if got := v.Best.Build.Teeth; got[0] != z[0] || got[1] != z[1] {
			t.Errorf("%v with all six: %v", z, got)
		}
		for _, f := range v.Findings {
			if f.Agreement == Disagrees {
				t.Errorf("%v: an honest reading is said to disagree: %+v", z, f)
			}
		}
		// The same reading twice more is no new evidence against it.
		v2 := assess(t, sp, append(append([]Reading{}, list...), counted(z[0], z[1]))...).Verdict()
		if sure(v2) < sure(v)-1e-6 {
			t.Errorf("%v: an agreeing count lowers %v to %v", z, sure(v), sure(v2))
		}
	}
}

// A tag that lies is found out by two who count, whatever it says.
func TestLyingTagIsFoundOut(t *testing.T) {
	sp := space(t, axle)
	for i, z := range pairsInAxles {
		lie := pairsInAxles[(i+3)%len(pairsInAxles)]
		a, b := float64(z[0])/float64(z[1]), float64(lie[0])/float64(lie[1])
		if math.Abs(a/b-1) < 0.04 {
			continue
		}
		wheels := 4.0
		whole, part := math.Modf(a * wheels)
		v := assess(t, sp, tagged(fmt.Sprintf("%.2f", b)), counted(z[0], z[1]), byArc(wheels, int(whole), math.Round(part*380), 380, Circumference, false)).Verdict()
		if label(v) != fmt.Sprintf("%.2f", a) {
			t.Errorf("%v with a tag of %.2f: %s", z, b, label(v))
		}
		found := false
		for _, f := range v.Findings {
			found = found || f.Agreement == Disagrees
		}
		if !found {
			t.Errorf("%v with a tag of %.2f: nothing is said of it", z, b)
		}
	}
}

// Each kind of stage, read honestly by the ways it allows, comes to what is in
// it.
func TestEveryKindFindsTheTruth(t *testing.T) {
	for _, c := range []struct {
		name     string
		stage    Stage
		readings []Reading
		label    string
		teeth    []int
	}{
		{"transfer case, low", Stage{Kind: TransferCase, Position: "low"}, []Reading{onBench(4, SingleOutput, "10 and nine tenths"), {Method: Teeth, Teeth: []Count{{"sun", 42}, {"ring", 72}}}}, "2.71", []int{42, 72}},
		{"gearcase", Stage{Kind: Gearcase}, []Reading{onBench(10, SingleOutput, "20 and eight tenths"), stamped("27-13"), {Method: Teeth, Teeth: []Count{{"gear", 27}, {"pinion", 13}}}}, "2.08", []int{27, 13}},
		{"hub", Stage{Kind: Hub}, []Reading{{Method: Teeth, Teeth: []Count{{"sun", 24}, {"ring", 60}}}}, "3.50", []int{24, 60}},
		{"two stages", Stage{Kind: TwoStage}, []Reading{{Method: Teeth, Teeth: []Count{{"ring", 32}, {"pinion", 20}, {"sun", 32}, {"planet_ring", 56}}}}, "4.40", []int{32, 20, 32, 56}},
		{"planetary", Stage{Kind: Planetary}, []Reading{{Method: Teeth, Teeth: []Count{{"sun", 30}, {"ring", 60}}}, onBench(10, SingleOutput, "30")}, "3.00", []int{30, 60}},
	} {
		for _, r := range c.readings {
			if r.Method == Teeth {
				for _, n := range r.Teeth {
					if n.Count <= 0 {
						t.Fatalf("%s: %v", c.name, n)
					}
				}
			}
		}
		v := assess(t, space(t, c.stage), c.readings...).Verdict()
		if v.Label == nil || label(v) != c.label || sure(v) < 0.8 {
			t.Errorf("%s: %+v, want %s", c.name, v.Label, c.label)
			continue
		}
		if fmt.Sprint(v.Best.Build.Teeth) != fmt.Sprint(c.teeth) {
			t.Errorf("%s: %v, want %v", c.name, v.Best.Build.Teeth, c.teeth)
		}
		for i := range c.readings {
			if v.Best.Factors[i] <= 0 {
				t.Errorf("%s: reading %d says nothing for what is in it", c.name, i)
			}
		}
	}
}

// The n likeliest are those that sorting all of them gives, in its order, ties by the
// smaller ratio; and equal ratios stand together whatever their terms.
func TestTopIsTheSortedTop(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 5))
	for range 200 {
		a := &Assessment{post: make([]float64, 1+r.IntN(6000))}
		for i := range a.post {
			switch r.IntN(4) {
			case 0: // most builds are out of the question
			case 1:
				a.post[i] = math.Pow(10, -30*r.Float64())
			default:
				a.post[i] = float64(r.IntN(20)) / 1000
			}
		}
		all := make([]int, 0, len(a.post))
		least := 0.0
		if len(a.post) > 4000 {
			least = slices.Max(a.post) / 1e6
		}
		for i, p := range a.post {
			if p > least {
				all = append(all, i)
			}
		}
		slices.SortStableFunc(all, func(x, y int) int { return compareDown(a.post[x], a.post[y]) })
		n := 1 + r.IntN(len(a.post))
		if got := a.top(n); !slices.Equal(got, all[:min(n, len(all))]) {
			t.Fatalf("the %d likeliest of %d differ", n, len(a.post))
		}
	}
	sp := space(t, Stage{Kind: TwoStage})
	if !slices.IsSorted(sp.ratios) || len(sp.runs) < 1000 || sp.runs[len(sp.runs)-1] != int32(len(sp.hyps)) {
		t.Fatal("not sorted by ratio")
	}
	for i := range sp.hyps {
		h := &sp.hyps[i]
		if h.r != math.Abs(h.exact().Float()) || int64(h.label) != h.exact().Hundredths() {
			t.Fatalf("%v: %v and %d, exactly %v", h.teeth, h.r, h.label, h.exact())
		}
		if i > 0 && (sp.ratios[i] == sp.ratios[i-1]) != h.exact().Abs().Equal(sp.hyps[i-1].exact().Abs()) {
			t.Fatalf("%v and %v", sp.hyps[i-1].exact(), h.exact())
		}
	}
}
