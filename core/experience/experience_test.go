package experience

import (
	"encoding/json"
	"fmt"
	"math"
	"reflect"
	"strings"
	"testing"

	"zorvel/core/backlash"
	"zorvel/core/fault"
	"zorvel/core/findfault"
	"zorvel/core/identify"
)

var axle = identify.Stage{Kind: identify.RingAndPinion}

func pair(ring, pinion, found int) Gears {
	return Gears{Stage: axle, Construction: "pair", Teeth: []int{ring, pinion}, Found: found}
}

func file(id int, gears ...Gears) File {
	return File{Format: Format, Shop: fmt.Sprintf("%08x", id), Number: 1, Gears: gears, Faults: []Fault{},
		Housings: []Housing{}}
}

// What a shop counted leaves and comes back the same, and is taken.
func TestGatherAndBack(t *testing.T) {
	var g Gather
	count := func(ring, pinion int) {
		g.Count(axle, identify.Counts{{Member: "ring", Count: ring}, {Member: "pinion", Count: pinion}})
	}
	count(41, 10)
	count(37, 9)
	count(41, 10)
	g.Count(axle, identify.Counts{{Member: "ring", Count: 41}})                               // no whole set
	g.Count(axle, identify.Counts{{Member: "ring", Count: 4}, {Member: "pinion", Count: 10}}) // no set at all
	g.Count(identify.Stage{Kind: "magic"}, identify.Counts{{Member: "ring", Count: 4}})       // no such part
	g.Count(identify.Stage{Kind: identify.TransferCase, Position: "low"}, identify.Counts{})  // nothing
	g.Prove("stub")
	g.Prove("luck")
	g.Learn(Ring, backlash.Sample{Factor: 1.2, Sigma: 0.1})
	g.Learn(Ring, backlash.Sample{Factor: math.NaN()})
	f := g.File("0123abcd", 7, "North")
	text, err := json.Marshal(f)
	if err != nil {
		t.Fatal(err)
	}
	var back File
	if err := json.Unmarshal(text, &back); err != nil || !reflect.DeepEqual(f, back) {
		t.Errorf("%v\n%+v\n%+v", err, f, back)
	}
	if err := back.Check(); err != nil {
		t.Error(err)
	}
	if len(f.Gears) != 2 || f.Gears[0].Found != 2 || f.Counted() != 3 || f.Proved() != 1 || f.Moved() != 1 ||
		f.Empty() {
		t.Errorf("%s", text)
	}
	if empty := (&Gather{}).File("0123abcd", 0, ""); !empty.Empty() || empty.Check() != nil {
		t.Errorf("%+v", empty)
	}
}

// Whatever can't be is refused at its field.
func TestCheck(t *testing.T) {
	many := file(1)
	for range MostGears + 1 {
		many.Gears = append(many.Gears, pair(41, 10, 1))
	}
	change := func(f func(*File)) File {
		x := file(1, pair(41, 10, 3))
		f(&x)
		return x
	}
	for field, f := range map[string]File{
		"format":               change(func(f *File) { f.Format = "list" }),
		"shop":                 change(func(f *File) { f.Shop = "Main street" }),
		"number":               change(func(f *File) { f.Number = -1 }),
		"gears":                many,
		"gears/0/found":        file(1, pair(41, 10, 0)),
		"gears/0/teeth":        file(1, pair(4, 10, 1)),
		"gears/1/teeth":        file(1, pair(41, 10, 1), pair(41, 10, 2)),
		"gears/0/construction": file(1, Gears{Stage: axle, Construction: "belt", Teeth: []int{41, 10}, Found: 1}),
		"faults/0/sort":        change(func(f *File) { f.Faults = []Fault{{"luck", 1}} }),
		"faults/1/sort":        change(func(f *File) { f.Faults = []Fault{{"stub", 1}, {"stub", 1}} }),
		"faults/0/found":       change(func(f *File) { f.Faults = []Fault{{"stub", -1}} }),
		"housings/0/kind": change(func(f *File) {
			f.Housings = []Housing{{"roof", backlash.Scatter{Count: 1,
				Mean: 1}}}
		}),
		"housings/0/mean":  change(func(f *File) { f.Housings = []Housing{{Ring, backlash.Scatter{Count: 1}}} }),
		"housings/0/count": change(func(f *File) { f.Housings = []Housing{{Ring, backlash.Scatter{Mean: 1}}} }),
		"housings/0/sigma": change(func(f *File) {
			f.Housings = []Housing{{Ring, backlash.Scatter{Count: 1,
				Mean: 1, Sigma: -1}}}
		}),
	} {
		list := fault.List(f.Check())
		if len(list) != 1 || list[0].Field != field {
			t.Errorf("%s: %v", field, list)
		}
	}
}

// A part that is no part is a fault of the file, not a crash.
func TestCheckOfStrangeParts(t *testing.T) {
	for _, st := range []identify.Stage{{}, {Kind: "magic"}, {Kind: identify.Planetary, Held: "nobody"},
		{Kind: identify.TransferCase, Position: "up"}} {
		f := file(1, Gears{Stage: st, Construction: "pair", Teeth: []int{41, 10}, Found: 1})
		if len(fault.List(f.Check())) == 0 {
			t.Errorf("%+v was taken", st)
		}
	}
}

// By hand: A found 41/10 thrice and 37/9 once, B 41/10 once and 47/9 once. Of A's four
// B foretells three, of B's two A foretells one: 4 of 6.
func TestForetold(t *testing.T) {
	o := NewPool([]File{file(1, pair(41, 10, 3), pair(37, 9, 1)), file(2, pair(41, 10, 1), pair(47, 9,
		1))}).Others(axle)
	if o.Shops != 2 || o.Counted != 6 || math.Abs(o.Foretold-4.0/6) > 1e-12 || o.Least != 0 || len(o.Sets) != 3 ||
		o.Sets[0].Weight != 4 {
		t.Errorf("%+v", o)
	}
	if s := o.Share(); s != 0.65 {
		t.Errorf("share %v", s)
	}
	// Its own counts move it: of ten, one was held by others. (1 + 4·⅔) ÷ 14.
	if o.Own, o.Hit = 10, 1; o.Share() != 0.25 {
		t.Errorf("share %v", o.Share())
	}
	// One shop alone is held against itself: what it met once foretells nothing, and half
	// of the rest counts.
	if o := NewPool([]File{file(1, pair(41, 10, 3), pair(37, 9, 1))}).Others(axle); math.Abs(o.Foretold-0.375) > 1e-12 {
		t.Errorf("%+v", o)
	}
	if o := NewPool(nil).Others(axle); o.Share() != 0 {
		t.Errorf("nobody's share is %v", o.Share())
	}
}

// A shop that counts by the thousand, or wrongly, doesn't speak for the others.
func TestNoShopSpeaksForAll(t *testing.T) {
	files := []File{file(1, pair(47, 9, 900_000))}
	for i := range 9 {
		files = append(files, file(i+2, pair(41, 10, 100)))
	}
	o := NewPool(files).Others(axle)
	if o.Sets[0].Teeth[0] != 41 || o.Sets[1].Weight > mostOfOneShop {
		t.Errorf("%+v", o.Sets)
	}
	files[0].Faults = []Fault{{"stub", 900_000}}
	files[0].Housings = []Housing{{Ring, backlash.Scatter{Count: 900_000, Mean: 2}}}
	p := NewPool(files)
	if n := p.Faults()["stub"]; n != mostOfOneShop {
		t.Errorf("%d stubs", n)
	}
	if h := p.Housings(Ring, backlash.ByLaw(0.3)); h == nil || h.Count != mostOfOneShop {
		t.Errorf("%+v", h)
	}
	if h := p.Housings(Pinion, backlash.ByLaw(0.5)); h != nil {
		t.Errorf("nobody moved a pinion: %+v", h)
	}
}

// Taking a shop out leaves what would be there without it.
func TestReversible(t *testing.T) {
	a, b := file(1, pair(41, 10, 30), pair(37, 9, 4)), file(2, pair(47, 9, 12))
	if with, without := NewPool([]File{a, b}), NewPool([]File{a}); reflect.DeepEqual(with.Others(axle),
		without.Others(axle)) {
		t.Error("the second shop weighed nothing")
	}
	if again := NewPool([]File{a}).Others(axle); !reflect.DeepEqual(again, NewPool([]File{a}).Others(axle)) {
		t.Errorf("%+v", again)
	}
}

// Forty shops whose work is alike: with the others' experience it goes quicker, and what
// is called sure is right as often as it says, where the experience fits and where not.
func TestCooperative(t *testing.T) {
	sp, err := identify.NewSpace(axle)
	if err != nil {
		t.Fatal(err)
	}
	for name, c := range map[string]Cooperative{
		"alike":     {Shops: 40, Housings: 30, Technicians: 240, Seed: 1, Apart: 0.7, Strange: 0.1},
		"elsewhere": {Shops: 40, Housings: 30, Technicians: 120, Seed: 2, Apart: 0.7, Strange: 0.1, Elsewhere: true},
		"few":       {Shops: 3, Housings: 8, Technicians: 90, Seed: 3, Apart: 1, Strange: 0.3},
	} {
		o, err := c.Run(sp)
		if err != nil {
			t.Fatal(err)
		}
		t.Logf("%s: minutes %.2f alone, %.2f with; settled %d and %d, wrong %d and %d of %d", name, o.Alone.Minutes,
			o.With.Minutes,
			o.Alone.Settled, o.With.Settled, o.Alone.WrongSettled, o.With.WrongSettled, o.With.Technicians)
		if name == "alike" && o.With.Minutes > 0.95*o.Alone.Minutes {
			t.Errorf("%s: nothing gained", name)
		}
		given, right, claimed := 0, 0, 0.0
		for _, b := range o.With.Bands {
			if b.From >= identify.SureEnough {
				given, right, claimed = given+b.Given, right+b.Right, claimed+b.Claimed
			}
		}
		short := claimed - float64(right)
		if short > 3*math.Sqrt(claimed-claimed*claimed/float64(given)+1) {
			t.Errorf("%s: of %d verdicts called sure %.1f should be right, %d are", name, given, claimed, right)
		}
	}
}

// What others proved moves what is typical, and a shop's own repairs move that.
func TestFaultsOfOthers(t *testing.T) {
	typical := findfault.Priors()
	alone := findfault.Tell(nil, nil)
	with := findfault.Tell(nil, map[string]int{"stub": 60, "luck": 4})
	if with.Others != 60 || with.Priors["stub"] <= alone.Priors["stub"] ||
		with.Priors["wheel_bearing"] >= typical["wheel_bearing"] || !strings.Contains(with.Sentence,
		"60 repairs of other shops") {
		t.Errorf("%+v", with)
	}
	if alone.Others != 0 || strings.Contains(alone.Sentence, "other shops") {
		t.Errorf("%s", alone.Sentence)
	}
}
