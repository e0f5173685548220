package identify

import (
	"math"
	"slices"
	"strings"
	"testing"
)

// The pair shown has the label shown; a likelier single build of another label
// is told apart.
func TestBestPairBearsTheLabel(t *testing.T) {
	for _, text := range []string{"456", "479", "410", "4-10", "4·11", "373", "5-38", "3711", "650", "731", "7-38", "27 13"} {
		for _, r := range []Reading{stamped(text), tagged(text)} {
			v := assess(t, space(t, axle), r).Verdict()
			if v.Label != nil && v.Best.Build.Ratio.Label() != label(v) {
				t.Errorf("%s %q: label %s, pair %v", r.Method, text, label(v), v.Best.Build.Teeth)
			}
			if v.Rival != nil && (v.Rival.Build.Ratio.Label() == label(v) || v.Rival.Probability <= v.Best.Probability) {
				t.Errorf("%s %q: rival %+v beside %+v", r.Method, text, v.Rival, v.Best)
			}
		}
	}
	v := assess(t, space(t, axle), stamped("456")).Verdict()
	if label(v) != "4.56" || sure(v) < 0.6 {
		t.Errorf("456 is %s, %v", label(v), v.Best.Build.Teeth)
	}
}

// "4-10" on an axle is the ratio; 10 and 4 teeth stay possible and are warned
// about. On a pair of spur gears counts like these are as good as any.
func TestDashedMarksAreWeighedBothWays(t *testing.T) {
	sp := space(t, axle)
	for text, want := range map[string]string{"4-10": "4.10", "4·10": "4.10", "4·11": "4.11", "3 73": "3.73", "5-38": "5.38"} {
		for _, r := range []Reading{tagged(text), stamped(text)} {
			v := assess(t, sp, r).Verdict()
			if label(v) != want || sure(v) < 0.6 {
				t.Errorf("%s %q: %s at %.3f", r.Method, text, label(v), sure(v))
			}
		}
	}
	v := assess(t, sp, stamped("4-10")).VerdictWith(1000)
	if !slices.ContainsFunc(v.Candidates, func(c Candidate) bool { return slices.Equal(c.Build.Teeth, []int{10, 4}) }) {
		t.Error("10 and 4 teeth aren't weighed at all")
	}
	if len(v.Checks) == 0 || !strings.Contains(v.Checks[0].Message, "if it means 10 and 4 teeth") {
		t.Errorf("no warning of 10 and 4 teeth: %v", v.Checks)
	}
	if v := assess(t, sp, stamped("9-47")).Verdict(); label(v) != "5.22" || len(v.Checks) != 0 {
		t.Errorf("9-47: %s, %v", label(v), v.Checks)
	}
}

// A reading whose own range excludes the verdict is named, with its likely
// cause, and may be taken again; the stage isn't called measured on it.
func TestReadingOutsideItsOwnRange(t *testing.T) {
	v := assess(t, space(t, axle), tagged("3.73"), turned(1, 1, true, "a hair past four"), stamped("41 11")).Verdict()
	if label(v) != "3.73" || v.State != Conflict {
		t.Fatalf("%s, %s", label(v), v.State)
	}
	f := v.Findings[1]
	if f.Agreement != Disagrees || f.Cause == CauseRight || f.Recount == "" || !strings.Contains(f.Reason, "leaves out 3.73") {
		t.Errorf("the turns: %+v", f)
	}
	// For any verdict and any turned reading: agreeing means that the range holds the verdict.
	sp := space(t, axle)
	for _, words := range []string{"3.4", "3.5", "3.6", "3.7", "3.75", "3.8", "3.9", "4", "4.1", "4.3", "2.7", "4.7"} {
		v := assess(t, sp, tagged("3.73"), turned(1, 1, true, words), stamped("41 11")).Verdict()
		f := v.Findings[1]
		inside := f.Interval.Low <= v.Best.Build.Ratio.Float() && v.Best.Build.Ratio.Float() <= f.Interval.High
		if f.Agreement == Agrees && !inside {
			t.Errorf("%s turns agree with %s, outside %v", words, label(v), f.Interval)
		}
		if f.Agreement != Agrees && (f.Cause == CauseRight || f.Reason == "fits") {
			t.Errorf("%s turns: %s because %s", words, f.Agreement, f.Reason)
		}
	}
}

// What is left out of the list is told and can be asked for: one output held,
// half a turn of the other, many pairs fit.
func TestWhatTheListLeavesOut(t *testing.T) {
	a := assess(t, space(t, axle), turned(0.5, 0, true, "0.77"))
	v := a.Verdict()
	if len(v.Candidates) > maxCandidates || v.Unlisted.Count == 0 {
		t.Fatalf("%d listed, %+v left out", len(v.Candidates), v.Unlisted)
	}
	sum := v.Unlisted.Share
	for _, c := range v.Candidates {
		sum += c.Probability
	}
	if math.Abs(sum-1) > 1e-9 {
		t.Errorf("listed and left out make %v", sum)
	}
	all := a.VerdictWith(MostCandidates)
	if len(all.Candidates) != len(v.Candidates)+v.Unlisted.Count || all.Unlisted.Share > 1e-3 {
		t.Errorf("all: %d listed, %+v left out", len(all.Candidates), all.Unlisted)
	}
	if !slices.ContainsFunc(all.Candidates, func(c Candidate) bool { return slices.Equal(c.Build.Teeth, []int{37, 12}) }) {
		t.Error("37/12 isn't among them")
	}
}

// One count alone isn't enough to be called measured, and the verdict says
// what it rests on.
func TestOneCountIsNotEnough(t *testing.T) {
	sp := space(t, axle)
	one := assess(t, sp, counted(41, 11)).Verdict()
	if one.State != Assumed || !strings.Contains(one.Note, "about 7 in 100") {
		t.Errorf("one count: %s at %.3f, %q", one.State, sure(one), one.Note)
	}
	if two := assess(t, sp, counted(41, 11), stamped("41 11")).Verdict(); two.State != Measured || two.Note != "" {
		t.Errorf("count and stamp: %s at %.3f, %q", two.State, sure(two), two.Note)
	}
	if tag := assess(t, sp, tagged("3.73")).Verdict(); tag.State != Assumed || !strings.Contains(tag.Note, "Nothing was counted") {
		t.Errorf("a tag: %s, %q", tag.State, tag.Note)
	}
}

// Two hundred readings, half for one pair and half for another, end alike in
// whatever order they come.
func TestLongContradictionKeepsNoOrder(t *testing.T) {
	sp := space(t, axle)
	var first, second []Reading
	for range 95 {
		first = append(first, counted(40, 10))
		second = append(second, counted(47, 9))
	}
	last := []Reading{counted(47, 9), counted(47, 9)}
	a := assess(t, sp, slices.Concat(first, second, last)...).Verdict()
	b := assess(t, sp, slices.Concat(second, last, first)...).Verdict()
	if label(a) != "5.22" || label(b) != "5.22" || math.Abs(sure(a)-sure(b)) > 1e-9 {
		t.Errorf("%s %v and %s %v", label(a), sure(a), label(b), sure(b))
	}
}

// What is said of the next step is true in each state.
func TestNextSentences(t *testing.T) {
	sp := space(t, axle)
	settled := assess(t, sp, counted(41, 11), stamped("41 11"), byArc(10, 37, 104, 380, Circumference, false))
	if s := settled.Next(SettlePair, Situation{}).Sentence; s != "The exact tooth counts are settled. No further measurement is needed for that." {
		t.Error(s)
	}
	if s := settled.Next(SettleLabel, Situation{}).Sentence; !strings.HasPrefix(s, "The ratio is settled.") {
		t.Error(s)
	}
	for _, rs := range [][]Reading{{turned(1, 1, true, "4.1")}, {tagged("4.10")}, {counted(41, 10)}, {turned(0.5, 0, true, "0.77")}} {
		for _, goal := range []Goal{SettleLabel, SettlePair} {
			for _, sit := range []Situation{{}, {OnStands: true}, {NoTag: true, NoStamp: true}, {NoTag: true, NoStamp: true, NoTurns: true, NoRoad: true}} {
				if s := assess(t, sp, rs...).Next(goal, sit).Sentence; strings.Contains(s, " 0 %") || strings.Contains(s, "100 %") || strings.Contains(s, "are is") {
					t.Error(s)
				}
			}
		}
	}
}
