package regear

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"zorvel/core/tire"
)

func fourWheel(rear, front PlainAxle, center string) Request {
	q := plain()
	q.Plain.Rear, q.Plain.Front, q.Plain.Center = rear, front, center
	q.Old, q.New = tire.Tire{Marking: "235/75R15"}, tire.Tire{Marking: "235/75R15"}
	q.Shop = Shop{}
	return q
}

// What comes next weighs like what is there: ends that another center would bind
// are never left, and are never recommended.
func TestNextCenterWeighsLikeThisOne(t *testing.T) {
	for _, off := range [][2]int{{41, 10}, {44, 11}, {39, 10}, {41, 11}, {43, 11}} {
		for _, next := range []string{"part_time", "solid", "open", "planetary", "limited_slip", ""} {
			q := fourWheel(PlainAxle{Ring: 41, Pinion: 10}, PlainAxle{Ring: off[0], Pinion: off[1]}, "open")
			q.NextCenter = next
			p := work(t, q)
			best := p.find(p.Advice.Candidate)
			apart := math.Abs(float64(off[0])/float64(off[1])/4.1-1) * 100
			if binds := next == "part_time" && apart > 1 || next == "solid" && apart > 0.7; binds && (best.ID == "leave" || p.find("leave").Refused == "") {
				t.Errorf("%v, %s next: %s", off, next, p.Advice.Sentence)
			}
			if best.NextMatch != nil && best.NextMatch.Level == "wrong" && best.Refused == "" {
				t.Errorf("%v, %s next: recommends what will bind: %s", off, next, p.Advice.Sentence)
			}
		}
	}
}

// What stays is a candidate for each axle, known by teeth or by ratio only, in the
// catalog or not; and the axle that is wrong is the only one that is opened.
func TestOnlyTheWrongAxleIsOpened(t *testing.T) {
	for _, rear := range []PlainAxle{{Ring: 41, Pinion: 11}, {Ratio: fig("41/11")}, {Ring: 56, Pinion: 15}} {
		for _, center := range []string{"part_time", "solid"} {
			q := fourWheel(rear, PlainAxle{Ring: 41, Pinion: 10}, center)
			p := work(t, q)
			best := p.find(p.Advice.Candidate)
			if len(best.Opens) != 1 || strings.Contains(p.Advice.Sentence, "together") || math.Abs(*best.Match.Percent) > 1 {
				t.Errorf("rear %+v, %s: opens %v: %s", rear, center, best.Opens, p.Advice.Sentence)
			}
		}
	}
}

// An axle that can't be changed keeps its gears in every candidate, and the other
// comes to it.
func TestFixedAxleStays(t *testing.T) {
	for _, at := range []string{"rear", "front"} {
		q := fourWheel(PlainAxle{Ring: 41, Pinion: 11}, PlainAxle{Ring: 41, Pinion: 10}, "part_time")
		q.New = tire.Tire{Marking: "265/75R15"}
		want := "41/10"
		if at == "rear" {
			q.Rear.Fixed, want = true, "41/11"
		} else {
			q.Front.Fixed = true
		}
		p := work(t, q)
		for _, c := range p.Candidates {
			for _, o := range c.Opens {
				if strings.Contains(strings.ToLower(o), at) {
					t.Errorf("%s can't be changed, and %s opens %v", at, c.ID, c.Opens)
				}
			}
		}
		if !strings.Contains(p.Advice.Sentence, want) {
			t.Errorf("%s %s stays: %s", at, want, p.Advice.Sentence)
		}
		q.Rear.Fixed, q.Front.Fixed = true, true
		if p = work(t, q); len(p.Candidates) != 1 || p.Candidates[0].ID != "leave" {
			t.Errorf("both stay, and there are %d candidates", len(p.Candidates))
		}
	}
}

// Less than what equal tires differ by is left alone, with the reason.
func TestLessThanTheTiresDifferByIsLeft(t *testing.T) {
	for _, front := range [][2]int{{37, 9}, {41, 10}, {37, 10}} {
		q := fourWheel(PlainAxle{Ring: 41, Pinion: 10}, PlainAxle{Ring: front[0], Pinion: front[1]}, "solid")
		p := work(t, q)
		apart := math.Abs(float64(front[0])/float64(front[1])/4.1-1) * 100
		said := strings.Join(p.Advice.Against, " ") + strings.Join(p.Advice.For, " ")
		if left := p.Advice.Candidate == "leave"; left != (apart <= 0.7) {
			t.Errorf("%.2f %% apart: %s", apart, p.Advice.Sentence)
		} else if left && apart > 0 && !strings.Contains(said, "equal tires differ by wear") {
			t.Errorf("no reason: %s", said)
		}
	}
}

// A recommendation is one that a method picks, or says what outweighs the methods;
// and one label is one line.
func TestRecommendationComesOutOfTheMethods(t *testing.T) {
	for _, size := range []string{"245/75R16", "265/75R16", "285/75R16", "315/75R16", "35x12.50R15"} {
		for _, use := range []string{Highway, Mixed, Towing, Trail} {
			for _, pair := range [][2]int{{41, 11}, {41, 10}, {37, 9}, {39, 10}, {41, 9}} {
				q := fourWheel(PlainAxle{Ring: pair[0], Pinion: pair[1]}, PlainAxle{Ring: pair[0], Pinion: pair[1]}, "part_time")
				q.Old, q.New, q.Use = tire.Tire{Marking: "235/75R16"}, tire.Tire{Marking: size}, use
				p := work(t, q)
				name := fmt.Sprintf("%s, %s, %d/%d", size, use, pair[0], pair[1])
				best := p.find(p.Advice.Candidate)
				if len(best.Schools) == 0 && !strings.Contains(p.Advice.Sentence, "outweighs it") && !strings.Contains(p.Advice.Sentence, "about as good") {
					t.Errorf("%s: no method picks %s, and nothing is said of it: %s", name, best.ID, p.Advice.Sentence)
				}
				seen := map[string]bool{}
				for _, c := range p.Candidates {
					if seen[c.label()] {
						t.Errorf("%s: %s stands twice", name, c.label())
					}
					seen[c.label()] = true
				}
				if v := p.variant(best.Variant); use == Trail && best.Refused == "" && v.Against < -worthwhile-3 {
					t.Errorf("%s: trail, and %s acts %.1f %% taller than stock", name, best.ID, -v.Against)
				}
				for _, s := range append(p.Advice.For, p.Advice.Against...) {
					if strings.Contains(s, "1 of the") || strings.Contains(s, "schools pick") {
						t.Errorf("%s: %s", name, s)
					}
				}
			}
		}
	}
}

// A kind of gearbox stands in for ratios; what comes of it is marked. An automatic one
// is told about, and agrees with the table.
func TestTypicalGearboxes(t *testing.T) {
	for _, b := range TypicalGearboxes() {
		q := fourWheel(PlainAxle{Ring: 41, Pinion: 10}, PlainAxle{}, "")
		q.New = tire.Tire{Marking: "31x10.50R15"}
		q.Plain.Gears, q.Plain.Ranges, q.Plain.Typical = nil, nil, b.ID
		p := work(t, q)
		if len(p.Before.Rows) != len(b.Ratios) || !strings.Contains(strings.Join(p.Notes, " "), "typical ones ("+b.Words) {
			t.Errorf("%s: %d gears, %v", b.ID, len(p.Before.Rows), p.Notes)
		}
		if (p.Automatic != "") != b.Automatic {
			t.Errorf("%s: %q", b.ID, p.Automatic)
		}
		if b.Automatic {
			v := p.variant(p.find(p.Estimate.Candidate).Variant)
			want := fmt.Sprintf("at %.1f %% higher road speed", (p.NewTire.RollingMM.Float()/p.OldTire.RollingMM.Float()-1)*100)
			if !strings.Contains(strings.Replace(p.Automatic, ".0 %", " %", 1), strings.Replace(want, ".0 %", " %", 1)) || v.ID == "tires_only" && strings.Count(p.Automatic, "road speed") != 1 {
				t.Errorf("%s: %q, want %q", b.ID, p.Automatic, want)
			}
		}
		if p.Estimate.Priced {
			t.Errorf("%s: an empty shop prices %+v", b.ID, p.Estimate.Lines)
		}
	}
	q := plain()
	q.Plain.Typical = "manual_9"
	if _, err := Work(q); err == nil || !strings.Contains(err.Error(), "automatic_4") {
		t.Error(err)
	}
}

// What is said of the lead is what the scores say, over many tires and uses; leaving the
// gears, which costs nothing, gives way to no gears that score worse.
func TestTheLeadIsAsTheScoresSay(t *testing.T) {
	leaves := 0
	for _, use := range []string{"highway", "mixed", "towing", "trail"} {
		for wide := 205; wide <= 325; wide += 40 {
			q := fourWheel(PlainAxle{Ring: 41, Pinion: 10}, PlainAxle{Ring: 37, Pinion: 9}, "part_time")
			q.Use, q.New.Marking, q.Shop = use, fmt.Sprintf("%d/75R15", wide), plain().Shop
			out := work(t, q)
			best := out.find(out.Advice.Candidate)
			behind := false
			for _, c := range out.Candidates {
				behind = behind || c.Refused == "" && c.Variant != best.Variant && c.Score < best.Score
			}
			if behind && strings.Contains(out.Advice.Sure, " ahead of ") {
				t.Errorf("%s, %d: %s", use, wide, out.Advice.Sure)
			}
			for _, c := range out.Candidates {
				if c.ID == "leave" && best.ID != "leave" && c.Score < best.Score && c.Refused == "" && c.Variant != best.Variant {
					t.Errorf("%s, %d: %s scores %v and leaving %v: %s", use, wide, best.Name, best.Score, c.Score, out.Advice.Sentence)
				}
			}
			if best.ID == "leave" {
				leaves++
			}
		}
	}
	if leaves == 0 {
		t.Error("the gears are never left")
	}
}
