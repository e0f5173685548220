package identify

import (
	"fmt"
	"strings"
	"testing"
)

var kindsTurned = []Stage{axle, {Kind: TwoStage}, {Kind: TransferCase, Position: "low"}, {Kind: TransferCase, Position: "high"}, {Kind: Gearcase}, {Kind: Gearbox, Position: "2"}, {Kind: Hub}, {Kind: Planetary}}

// Whatever is read, of whatever stage: a label that stands has half of the
// probability and lies in what the agreeing readings leave open; else the range is
// said, and what is named in it lies in it.
func TestHeadlineFollowsTheEvidence(t *testing.T) {
	words := []string{"1 and four tenths", "1 and a bit", "2", "2 and a bit", "just short of 3", "2.7", "4 and two tenths", "4 and a bit", "5 and a bit", "almost 5", "about 6", "8 and a half"}
	for _, st := range kindsTurned {
		sp := space(t, st)
		withList := sp
		if st == axle {
			withList = space(t, axle, pair(41, 10), pair(39, 8), pair(47, 9))
		}
		for _, w := range words {
			for _, turns := range []float64{1, 4} {
				if st.Kind == TwoStage && turns > 1 {
					continue // 300,000 builds
				}
				readings := []Reading{onBench(turns, SingleOutput, w)}
				if st == axle {
					readings = append(readings, turned(2*turns, 0, true, w), turned(turns, turns, false, w))
				}
				for _, r := range readings {
					for _, sp := range []*Space{withList, sp.Plain()} {
						a := assess(t, sp, r)
						v := a.Verdict()
						h := v.Headline
						name := fmt.Sprintf("%s %s, %s", st.Kind, st.Position, r.Summary())
						inside := func(x float64) bool { return v.Turns.Low-0.005 <= x && x <= v.Turns.High+0.005 }
						if (h.Label != "") != (v.Label != nil) || v.State == Measured && v.Label == nil {
							t.Errorf("%s: %+v, %s", name, h, v.State)
						}
						if v.Label != nil && (v.Label.Probability < believed || !inside(v.Label.Ratio.Float())) {
							t.Errorf("%s: %s stands with %.2f, the turns allow %+v", name, h.Label, v.Label.Probability, v.Turns)
						}
						if v.Label == nil && (!strings.HasPrefix(h.Text, "about ") || h.Range.Low != v.Turns.Low || h.About < h.Range.Low || h.About > h.Range.High) {
							t.Errorf("%s: %+v", name, h)
						}
						last := 2.0
						for _, c := range h.Could {
							if !inside(absf(c.Ratio.Float())) || c.Probability > last {
								t.Errorf("%s: could be %+v", name, c)
							}
							last = c.Probability
						}
						for _, o := range h.Outside {
							if r := absf(o.Ratio.Float()); v.Turns.Low < r && r < v.Turns.High || !strings.Contains(h.Sentence, o.Label+" would need a miscount") {
								t.Errorf("%s: outside %+v: %s", name, o, h.Sentence)
							}
						}
					}
				}
			}
		}
	}
}

// "and a bit" is more, "just short of" is less, at every number.
func TestNudgesAreOneSided(t *testing.T) {
	sp := space(t, axle).Plain()
	for n := 3; n <= 8; n++ {
		for _, c := range []struct {
			words string
			sign  float64
		}{{"%d and a bit", 1}, {"a little over %d", 1}, {"just past %d", 1}, {"%d plus some", 1}, {"just short of %d", -1}, {"almost %d", -1}, {"not quite %d", -1}, {"%d less a hair", -1}} {
			words := fmt.Sprintf(c.words, n)
			a := assess(t, sp, turned(1, 1, true, words))
			toward, away := 0.0, 0.0
			for i, p := range a.post {
				switch off := c.sign * (sp.hyps[i].r - float64(n)); {
				case off > 0 && off < 0.3:
					toward += p
				case off < 0 && off > -0.3:
					away += p
				}
			}
			if toward < 4*away {
				t.Errorf("%s: %.3f on its own side, %.3f on the other", words, toward, away)
			}
			v := a.Verdict()
			if edge := map[bool]float64{true: v.Turns.Low, false: v.Turns.High}[c.sign > 0]; absf(edge-float64(n)) > 0.1 {
				t.Errorf("%s allows %.3f to %.3f", words, v.Turns.Low, v.Turns.High)
			}
		}
	}
}

// A tag doesn't stretch a careful count of turns to where it can't be; teeth and a
// stamp do outweigh it, and then the turns are named.
func TestWhatOutweighsTurns(t *testing.T) {
	sp := space(t, axle)
	turns := turned(1, 1, true, "4.2")
	if v := assess(t, sp, tagged("3.73"), turns).Verdict(); v.Label != nil || !strings.Contains(v.Headline.Sentence, "3.73 would need a miscount") {
		t.Errorf("a tag: %s", v.Headline.Sentence)
	}
	v := assess(t, sp, counted(41, 11), stamped("41 11"), turns).Verdict()
	if label(v) != "3.73" || v.State != Conflict {
		t.Errorf("counted and stamped: %s, %s", label(v), v.State)
	}
	if f := v.Findings[2]; f.Agreement != Disagrees || !strings.HasPrefix(f.Recount, "Count again: both wheels, 4 turns") {
		t.Errorf("%+v", f)
	}
}

// What comes next is what a person does: few turns unless long counts are asked
// for, no tag for who has seen the gears, and each kind of part its own way.
func TestNextIsDoable(t *testing.T) {
	for _, st := range kindsTurned {
		sp := space(t, st)
		for _, rs := range [][]Reading{{}, {onBench(1, SingleOutput, "2.7")}, {onBench(4, SingleOutput, "10.9"), onBench(4, SingleOutput, "10.9")}} {
			for _, sit := range []Situation{{}, {NoTag: true, NoStamp: true}, {CoverOff: true}, {ManyTurns: true}} {
				for _, o := range assess(t, sp, rs...).Next(SettleLabel, sit).Options {
					if o.OutputTurns > mostTurns && !sit.ManyTurns || o.OutputTurns > 4 && len(rs) == 0 && !sit.ManyTurns {
						t.Errorf("%s: %s", st.Kind, o.Do)
					}
					if o.Method == Tag && sit.CoverOff {
						t.Errorf("%s: looks for the tag with the cover off", st.Kind)
					}
					if st.Kind != RingAndPinion && st.Kind != TwoStage && (o.Method == Turns || strings.Contains(o.Do, "wheels")) {
						t.Errorf("%s: %s", st.Kind, o.Do)
					}
				}
			}
		}
		first := assess(t, sp).Next(SettleLabel, Situation{}).Options[0]
		if st.Kind == Gearcase && (first.Method != Bench || !strings.Contains(first.Do, "the way the engine turns it")) || st.Kind == Gearbox && first.Method != Bench {
			t.Errorf("%s begins with: %s", st.Kind, first.Do)
		}
	}
	sp := space(t, axle)
	for _, o := range assess(t, sp, counted(41, 10)).Next(SettleLabel, Situation{}).Options {
		if o.Method == Tag || o.Method == Teeth && o.Minutes > 10 {
			t.Errorf("after counting teeth: %s, %.0f minutes", o.Do, o.Minutes)
		}
	}
}

// Sure is sure in every world: axles as reckoned, only common ones, none of them
// common, and a shop whose new list holds none of them. A small run of the table in
// docs/accuracy.md.
func TestSureInEveryWorld(t *testing.T) {
	sp := space(t, axle)
	fresh := space(t, axle, pair(41, 10), pair(37, 9), pair(41, 9), pair(39, 8))
	for name, w := range map[string]struct{ reckoned, truths *Space }{
		"as reckoned": {sp, sp}, "only common": {sp, sp.In(OnlyCommon)}, "none common": {sp, sp.In(OnlyOther)}, "list without them": {fresh, sp.In(OnlyOther)},
	} {
		given, right := 0, 0
		for _, first := range []FirstReading{FirstByEye, FirstInWords, FirstByArc, FirstTeeth, FirstTag, ""} {
			n := 300
			if first == "" {
				n = 40
			}
			o, err := Trial{Technicians: n, Scale: 1, Seed: 3, Truths: w.truths, First: first}.Run(w.reckoned, nil)
			if err != nil {
				t.Fatal(err)
			}
			for _, b := range o.Bands {
				if b.From >= SureEnough {
					given, right = given+b.Given, right+b.Right
				}
			}
			if h := o.Headlines; h.Given > 50 && float64(h.Right) < 0.75*float64(h.Given) {
				t.Errorf("%s, %s: %d of %d headlines are right", name, first, h.Right, h.Given)
			}
			if r := o.Ranges; r.Given > 100 && float64(r.Right) < 0.86*float64(r.Given) {
				t.Errorf("%s, %s: %d of %d ranges hold the truth", name, first, r.Right, r.Given)
			}
		}
		if given < 30 || float64(right) < 0.95*float64(given) {
			t.Errorf("%s: of %d verdicts called 95 %% sure %d were right", name, given, right)
		}
	}
}
