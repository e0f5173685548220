package regear

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"zorvel/core/driveline"
	"zorvel/core/exact"
	"zorvel/core/tire"
)

// layoutOf is a ready driveline.
func layoutOf(t *testing.T, id string) *driveline.Document {
	t.Helper()
	for _, l := range driveline.Layouts() {
		if l.ID == id {
			d := l.Document
			d.Format = driveline.Format
			if err := d.Check(); err != nil {
				t.Fatal(err)
			}
			return &d
		}
	}
	t.Fatalf("no layout %s", id)
	return nil
}

func partOf(t *testing.T, d *driveline.Document, id string) *driveline.Part {
	t.Helper()
	for i := range d.Parts {
		if d.Parts[i].ID == id {
			return &d.Parts[i]
		}
	}
	t.Fatalf("no part %s", id)
	return nil
}

// tandem asks for larger tires on a truck with two driven rear axles.
func tandem(t *testing.T, percent int64) Request {
	mm := exact.Int(3210)
	return Request{Driveline: layoutOf(t, "tandem"), Old: tire.Tire{RollingMM: exact.Figure{Number: mm}},
		New: tire.Tire{RollingMM: exact.Figure{Number: mm.Mul(exact.New(100+percent, 100))}}, Rear: AxleFacts{Family: "Varn 220"}}
}

// A plan opens, matches and prices every driven axle.
func TestTandemOpensBothAxles(t *testing.T) {
	q := tandem(t, 14)
	sets(&q, [2]int{41, 11}, [2]int{43, 10}, [2]int{41, 9})
	for i := range q.Shop.Sets {
		q.Shop.Sets[i].Shelf = 1
	}
	p := work(t, q)
	if len(p.Axles) != 2 {
		t.Fatalf("axles %+v", p.Axles)
	}
	c := p.find(p.Advice.Candidate)
	if c.Rear == nil || len(c.Opens) != 2 || !strings.Contains(p.Advice.Sentence, "first rear axle and second rear axle") {
		t.Fatalf("%s opens %v: %s", c.ID, c.Opens, p.Advice.Sentence)
	}
	if c.Match == nil || c.Match.Level != "match" {
		t.Errorf("match %+v", c.Match)
	}
	if c.Shelf || strings.Contains(strings.Join(p.Advice.For, " "), "on the shelf") {
		t.Error("one set on the shelf is enough for two axles")
	}
	n := 0
	for _, l := range p.Estimate.Lines {
		if strings.HasPrefix(l.What, "Ring and pinion") {
			n++
		}
	}
	if n != 2 || !p.Estimate.Low.Equal(exact.Int(800)) {
		t.Errorf("%d sets in the estimate of %v: %+v", n, p.Estimate.Low, p.Estimate.Lines)
	}
	for i := range q.Shop.Sets {
		q.Shop.Sets[i].Shelf = 2
	}
	if c := work(t, q).find(c.ID); !c.Shelf {
		t.Error("two sets for two axles aren't enough")
	}
}

// Axles that differ already are told, whatever the tires change.
func TestTandemThatDiffers(t *testing.T) {
	q := tandem(t, 0)
	partOf(t, q.Driveline, "second").Axle.Ring = 43
	sets(&q, [2]int{41, 11})
	q.Shop.Sets[0].Family = "elsewhere"
	p := work(t, q)
	if strings.HasSuffix(p.Advice.Sentence, "change next to nothing.") || !strings.Contains(p.Advice.Sentence, "axles already differ") {
		t.Error(p.Advice.Sentence)
	}
	if len(p.Notes) == 0 || !strings.Contains(strings.Join(p.Notes, " "), "As it is now") {
		t.Errorf("%v", p.Notes)
	}
	// With the right pair at hand, only the odd axle is opened.
	q.Shop.Sets[0].Family = "Varn 220"
	p = work(t, q)
	c := p.find("41-11")
	if c == nil || len(c.Opens) != 1 || c.Opens[0] != "Second rear axle" || c.Match.Level != "match" {
		t.Fatalf("%+v", c)
	}
	if n := len(p.find("41-11").Carriers); n != 1 {
		t.Errorf("%d carriers", n)
	}
}

// Six driven wheels: front and both rear axles are matched, and the reason
// given is true.
func TestSixBySix(t *testing.T) {
	q := tandem(t, 14)
	d := q.Driveline
	box := partOf(t, d, "prop").From
	d.Parts = append(d.Parts, driveline.Part{ID: "case", Kind: "transfer_case", From: box, TransferCase: &driveline.TransferCase{
		Range: driveline.Range{Type: "none"}, Center: driveline.Center{Type: "part_time"}, Front: driveline.Front{Type: "ratio", Ratio: fig("1")}}})
	partOf(t, d, "prop").From = "case.rear"
	d.Parts = append(d.Parts, driveline.Part{ID: "front", Kind: "axle", Name: "Front axle", From: "case.front", Axle: &driveline.Axle{Ring: 41, Pinion: 11, RingSide: "left", PinionAt: "behind", Differential: driveline.Differential{Type: "open"}}})
	for _, side := range []string{"left", "right"} {
		d.Parts = append(d.Parts, driveline.Part{ID: "front_" + side, Kind: "wheel", From: "front." + side, Wheel: &driveline.Wheel{At: "front", Side: side, RollingMM: fig("3210")}})
	}
	if err := d.Check(); err != nil {
		t.Fatal(err)
	}
	q.Front.Family = "Varn 220"
	sets(&q, [2]int{41, 11}, [2]int{43, 10}, [2]int{41, 9})
	p := work(t, q)
	c := p.find(p.Advice.Candidate)
	if c.Front == nil || len(c.Opens) != 3 || c.Match.Level != "match" {
		t.Errorf("%s opens %v, match %+v; notes %v", c.ID, c.Opens, c.Match, p.Notes)
	}
	if strings.Contains(strings.Join(p.Notes, " "), "holds no gear set") {
		t.Errorf("%v", p.Notes)
	}
	// Two sets at the rear and one in front: three of one pair.
	if c.Shelf {
		t.Error("two on the shelf are enough for three axles")
	}
}

// Twenty judgments that an experienced technician would sign; the reasoning is
// in docs/regear.md.
func TestWorkedJudgments(t *testing.T) {
	ladder := func(q *Request) {
		sets(q, [2]int{41, 11}, [2]int{43, 11}, [2]int{41, 10}, [2]int{37, 9}, [2]int{40, 9}, [2]int{41, 9}, [2]int{43, 9}, [2]int{39, 8}, [2]int{41, 8})
	}
	rear := func(q *Request) { q.Plain.Front = PlainAxle{} }
	tires := func(percent float64) func(*Request) {
		return func(q *Request) {
			q.New = tire.Tire{RollingMM: exact.Figure{Number: exact.New(int64(math.Round(24000*(100+percent))), 1000)}}
		}
	}
	use := func(u string) func(*Request) { return func(q *Request) { q.Use = u } }
	for _, c := range []struct {
		name string
		set  []func(*Request)
		want string // candidate, or what it must begin with
		says string // in the sentence, reasons or sureness
	}{
		{"ten percent larger, four driven wheels", []func(*Request){ladder, tires(10)}, "41-9+41-9", "front and rear together"},
		{"ten percent larger, rear drive", []func(*Request){ladder, rear, tires(10)}, "41-9", ""},
		{"two percent larger", []func(*Request){ladder, tires(2)}, "leave", "does not outweigh"},
		{"four percent larger, both axles to open", []func(*Request){ladder, tires(4)}, "leave", ""},
		{"towing, 3.75 percent larger: inside what tires vary", []func(*Request){ladder, rear, use(Towing), tires(3.75)}, "leave", ""},
		{"towing, eight percent larger", []func(*Request){ladder, rear, use(Towing), tires(8)}, "40-9", ""},
		{"highway, ten percent larger: never shorter than stock", []func(*Request){ladder, rear, use(Highway), tires(10)}, "40-9", ""},
		{"trail, ten percent larger: rather shorter", []func(*Request){ladder, rear, use(Trail), tires(10)}, "41-9", ""},
		{"smaller tires, six percent: leave or one step taller, never shorter", []func(*Request){ladder, rear, tires(-6)}, "43-11", ""},
		{"the same tires", []func(*Request){ladder, tires(0)}, "leave", "next to nothing"},
		{"twenty percent larger", []func(*Request){ladder, tires(20)}, "39-8+39-8", ""},
		{"nothing that fits in the lists", []func(*Request){func(q *Request) {
			sets(q,
				[2]int{41, 11})
			q.Shop.Sets[0].Family = "Skerry 9"
		}, func(q *Request) {
			q.Rear.Family,
				q.Front.Family = "Varn 220", "Varn 220"
		}, tires(12.5)}, "leave", "Nothing to choose from"},
		{"an empty shop, ten percent larger", []func(*Request){rear, tires(10)}, "41-9", "commonly made"},
		{"rear is as the factory built it: the front comes to it", []func(*Request){ladder, func(q *Request) { q.Plain.Rear = PlainAxle{Ring: 41, Pinion: 11} }, tires(0)}, "41-11+41-11", "the rear stays as it is"},
		{"part-time, a pair a hair under one percent apart", []func(*Request){func(q *Request) {
			q.Shop.Sets = []GearSet{{ID: "a", Family: "R", Ring: 41, Pinion: 9, Shelf: 2}, {ID: "b", Family: "F", Ring: 46, Pinion: 10, Shelf: 2}}
			q.Rear.Family, q.Front.Family = "R", "F"
		}, tires(12)}, "leave", "may be more than the one percent"},
		{"solid center: unequal pairs never", []func(*Request){func(q *Request) {
			q.Plain.Center = "solid"
			q.Shop.Sets = []GearSet{{ID: "a", Family: "R", Ring: 41, Pinion: 9, Shelf: 2}, {ID: "b", Family: "F", Ring: 46, Pinion: 10, Shelf: 2}}
			q.Rear.Family, q.Front.Family = "R", "F"
		}, tires(12)}, "leave", ""},
		{"a solid center comes next: equal pairs before near ones", []func(*Request){func(q *Request) {
			q.NextCenter = "solid"
			q.Plain.Center = "open"
			sets(q, [2]int{41, 9}, [2]int{46, 10}, [2]int{41, 10})
		}, tires(12)}, "4", "With the solid center that comes next: Exact match"},
		{"another carrier for a fraction of a percent isn't worth it", []func(*Request){rear, func(q *Request) {
			sets(q, [2]int{41, 9}, [2]int{43, 9})
			q.Shop.Sets = append(q.Shop.Sets, GearSet{ID: "x", Family: "Varn 220", Ring: 45, Pinion: 10, Shelf: 1, Carrier: &Span{fig("4.5"), fig("4.55")}})
			q.Rear.Carrier = &Span{fig("4.52"), fig("5.2")}
		}, tires(10)}, "41-9", "takes 4.52 to 5.20"},
		{"twelve percent, cruise band says leave", []func(*Request){ladder, rear, tires(5),
			func(q *Request) { q.Cruise = Cruise{KMH: 90, LowRPM: 1900, HighRPM: 2000} }}, "leave", "within the rpm range"},
		{"tires known by estimate only: not for less than they vary", []func(*Request){ladder, rear, func(q *Request) { q.Use = Towing },
			func(q *Request) {
				q.Old, q.New = tire.Tire{Marking: "255/70R16"}, tire.Tire{Marking: "255/75R16"}
			}}, "leave", ""},
	} {
		q := plain()
		for _, f := range c.set {
			f(&q)
		}
		p := work(t, q)
		all := strings.Join(append(append([]string{p.Advice.Sentence, p.Advice.Sure, p.Agreement}, p.Advice.For...), append(p.Advice.Against, p.Notes...)...), " ")
		for _, candidate := range p.Candidates {
			for _, x := range candidate.Points {
				all += " " + x.Text
			}
		}
		if !strings.HasPrefix(p.Advice.Candidate, c.want) || !strings.Contains(all, c.says) {
			t.Errorf("%s: %s, want %s saying %q\n  %s\n  %s", c.name, p.Advice.Candidate, c.want, c.says, p.Advice.Sentence, p.Advice.Sure)
		}
	}
}

// Change gears are swapped, the ring and pinion left; hubs and change gears
// count in the rule of thumb.
func TestChangeGearsComeFirst(t *testing.T) {
	q := Request{Driveline: layoutOf(t, "change_gears"), New: tire.Tire{RollingMM: fig("2150")}, Rear: AxleFacts{Family: "Varn 220"}}
	sets(&q, [2]int{38, 9}, [2]int{41, 9}, [2]int{43, 9})
	p := work(t, q)
	c := p.find(p.Advice.Candidate)
	if c.Change == nil || len(c.Opens) != 0 || c.Change[0]+c.Change[1] != 45 {
		t.Errorf("%s %v: %s", c.ID, c.Change, p.Advice.Sentence)
	}
	// 24 in, 21 on the pinion shaft: 8 % larger tires want 21/24 × 1.08: 22 on 23.
	if c.Change[0] != 22 || c.Change[1] != 23 {
		t.Errorf("change gears %v", c.Change)
	}
	v := p.variant(c.Variant)
	near(t, "ratio", v.Ratio.Float(), 38.0/9*(22.0/23)/(21.0/24), 1e-9)
	for _, s := range p.Schools {
		if s.ID == "rule_of_thumb" && (!strings.Contains(s.Text, "already make") || s.Target == nil) {
			t.Errorf("%+v", s)
		}
	}
}

// A high-range set changes both axles at once.
func TestHighRangeSet(t *testing.T) {
	q := plain()
	sets(&q, [2]int{41, 10}, [2]int{41, 9})
	q.Shop.HighSets = []LowSet{{ID: "h", Family: "Case", Name: "High 1.1", Ratio: fig("1.1")}}
	p := work(t, q)
	if len(p.HighSets) != 1 || math.Abs(p.HighSets[0].Against) > 1e-6 || !strings.Contains(p.HighSets[0].Text, "both axles") {
		t.Errorf("%+v", p.HighSets)
	}
}

// Families are compared by what was entered; equal rings don't make them equal.
func TestStrengthByEnteredValues(t *testing.T) {
	q := plain()
	q.Plain.Front = PlainAxle{}
	q.Shop.Sets = []GearSet{{ID: "a", Family: "Varn 220", Ring: 41, Pinion: 10, RingMM: 220, Splines: 28, Spiders: 2}, {ID: "b", Family: "Skerry 9", Ring: 41, Pinion: 10, RingMM: 220, Splines: 33, PinionMM: 42}, {ID: "c", Family: "Skerry 9", Ring: 41, Pinion: 9}, {ID: "d", Family: "Varn 220", Ring: 41, Pinion: 9}}
	p := work(t, q)
	if len(p.Strength) != 2 || !strings.Contains(p.Strength[0].Text, "splines 28") || !strings.Contains(p.Strength[0].Text, "not entered: pinion shank, tube") {
		t.Errorf("%+v", p.Strength)
	}
}

// A fault of plain figures is told at the field that was typed.
func TestPlainFaultsAtTheirField(t *testing.T) {
	for field, change := range map[string]func(*Plain){
		"plain/front/ring":    func(p *Plain) { p.Front = PlainAxle{Ring: 4100, Pinion: 10} },
		"plain/rear/ring":     func(p *Plain) { p.Rear = PlainAxle{Ring: 4100, Pinion: 10} },
		"plain/gears/1/ratio": func(p *Plain) { p.Gears[1].Ratio = fig("0") },
	} {
		q := plain()
		change(q.Plain)
		_, err := Work(q)
		if !strings.HasPrefix(fmt.Sprint(err), field+": ") {
			t.Errorf("%s: %v", field, err)
		}
	}
	q := plain()
	q.NextCenter = "sideways"
	if _, err := Work(q); err == nil || !strings.Contains(fmt.Sprint(err), "next_center") {
		t.Errorf("%v", err)
	}
}
