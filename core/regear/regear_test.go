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

func fig(s string) exact.Figure {
	n, err := exact.Parse(s)
	if err != nil {
		panic(err)
	}
	return exact.Figure{Number: n}
}

func near(t *testing.T, what string, got, want, tol float64) {
	t.Helper()
	if math.Abs(got-want) > tol {
		t.Errorf("%s is %v, want %v", what, got, want)
	}
}

// plain is a five-speed with a low range of 2.7, 41/10 at both ends, on tires
// of 2400 mm that become 2640 mm: ten percent larger.
func plain() Request {
	return Request{
		Plain: &Plain{
			Gears:  []PlainGear{{"1", fig("4")}, {"2", fig("2.4")}, {"3", fig("1.5")}, {"4", fig("1")}, {"5", fig("0.8")}, {"R", fig("-3.8")}},
			Ranges: []PlainRange{{"high", fig("1")}, {"low", fig("2.7")}},
			Rear:   PlainAxle{Ring: 41, Pinion: 10}, Front: PlainAxle{Ring: 41, Pinion: 10},
		},
		Old: tire.Tire{RollingMM: fig("2400")}, New: tire.Tire{RollingMM: fig("2640")},
		Cruise: Cruise{KMH: 90}, ShiftRPM: 3000, IdleRPM: 800, SpeedsKMH: []float64{60, 90},
	}
}

func sets(q *Request, pairs ...[2]int) {
	for _, z := range pairs {
		q.Shop.Sets = append(q.Shop.Sets, GearSet{ID: fmt.Sprint(z), Family: "Varn 220", Ring: z[0], Pinion: z[1], Shelf: 2, Price: fig("400"),
			Carrier: &Span{fig("3.8"), fig("5.2")}})
	}
}

func work(t *testing.T, q Request) *Plan {
	t.Helper()
	p, err := Work(q)
	if err != nil {
		t.Fatal(err)
	}
	return p
}

func TestRowsByHand(t *testing.T) {
	q := plain()
	q.Torque = []Point{{1000, 100}, {2000, 200}, {3000, 180}}
	p := work(t, q)
	if len(p.Before.Rows) != 12 {
		t.Fatalf("%d rows, want 6 gears in 2 ranges", len(p.Before.Rows))
	}
	row := func(v *Variant, gear, rng string) Row {
		for _, r := range v.Rows {
			if r.Gear == gear && r.Range == rng {
				return r
			}
		}
		t.Fatalf("no gear %s in %s", gear, rng)
		return Row{}
	}
	// Gear 1 in high: 4 · 4.1 = 16.4; in low 44.28.
	r := row(&p.Before, "1", "high")
	if !r.Overall.Equal(fig("16.4").Number) || !row(&p.Before, "1", "low").Overall.Equal(fig("44.28").Number) {
		t.Errorf("overall %v", r.Overall)
	}
	// 60 km/h is 1000 m/min: 1000 ÷ 2.4 turns × 16.4 = 6833.33 rpm.
	near(t, "rpm", r.RPM[0], 1000/2.4*16.4, 0.01)
	near(t, "shift", r.ShiftKMH, 3000/16.4*2.4*60/1000, 0.001)
	near(t, "kmh per 1000", r.KMH, 1000/16.4*2.4*60/1000, 0.0001)
	near(t, "acts like", row(&p.TiresOnly, "1", "high").ActsLike, 16.4/1.1, 0.00002)
	near(t, "thrust", r.Thrust, 16.4*2*math.Pi/2.4, 0.0001)
	// Fifth at 90 km/h before: 1500 ÷ 2.4 × 3.28 = 2050 rpm; after: 1863.64.
	near(t, "cruise before", p.Before.CruiseRPM, 2050, 0.01)
	near(t, "cruise after", p.TiresOnly.CruiseRPM, 2050/1.1, 0.01)
	if p.CruiseGear != "5" {
		t.Errorf("cruises in %s", p.CruiseGear)
	}
	// Torque between points: at 2050 rpm 200 − 20·0.05 = 199 N·m.
	f := row(&p.Before, "5", "high").Force[1]
	near(t, "force", *f, 199*3.28*2*math.Pi/2.4, 0.2)
	if row(&p.Before, "1", "low").Force[1] != nil {
		t.Error("a force beyond the torque curve")
	}
	// Crawl: 44.28; at 800 rpm 800 ÷ 44.28 × 2.4 m a minute = 2.6016 km/h.
	if !p.Before.Crawl.Equal(fig("44.28").Number) {
		t.Errorf("crawl %v", p.Before.Crawl)
	}
	near(t, "crawl speed", p.Before.CrawlKMH, 800/44.28*2.4*60/1000, 0.0001)
	near(t, "against stock", p.TiresOnly.Against, (1/1.1-1)*100, 1e-9)
	near(t, "launch", p.TiresOnly.Launch, 100/1.1, 1e-9)
	// Equivalent: 4.1 · 2640 ÷ 2400 = 4.51 exactly.
	if !p.Equivalent.Equal(fig("4.51").Number) || !p.TiresOnly.Effective.Equal(exact.New(41, 11)) {
		t.Errorf("equivalent %v, effective %v", p.Equivalent, p.TiresOnly.Effective)
	}
	if !row(&p.Before, "R", "high").Reverse {
		t.Error("R is not reverse")
	}
}

func TestRecommends(t *testing.T) {
	q := plain()
	sets(&q, [2]int{41, 10}, [2]int{37, 9}, [2]int{41, 9}, [2]int{43, 9}, [2]int{39, 8}, [2]int{41, 11})
	p := work(t, q)
	// 41/9 = 4.556 is 1.0 % shorter than 4.51; 43/9 = 4.778 is 5.9 %.
	if p.Advice.Candidate != "41-9+41-9" {
		t.Errorf("recommends %s: %s", p.Advice.Candidate, p.Advice.Sentence)
	}
	best := p.find("41-9+41-9")
	near(t, "off", best.Off, (41.0/9/4.51-1)*100, 1e-3)
	if best.Match.Level != "match" || len(best.Carriers) != 2 || best.Carriers[0].State != "fits" {
		t.Errorf("%+v %+v", best.Match, best.Carriers)
	}
	if !strings.Contains(p.Advice.Sentence, "front and rear together") {
		t.Error(p.Advice.Sentence)
	}
	joined := strings.Join(p.Advice.Against, " ")
	if !strings.Contains(joined, "9 teeth instead of 10") || !strings.Contains(joined, "rpm more at cruise") {
		t.Errorf("against: %s", joined)
	}
	// Every candidate carries what it was weighed by, and the list is sorted.
	for i := 1; i < len(p.Candidates); i++ {
		a, b := p.Candidates[i-1], p.Candidates[i]
		if a.Refused == "" && b.Refused == "" && a.Score > b.Score {
			t.Errorf("%s (%v) before %s (%v)", a.ID, a.Score, b.ID, b.Score)
		}
	}
	if p.find("leave") == nil {
		t.Error("leaving it is no candidate")
	}
	// The rear pair that is in it stays as it is if only the front changes.
	if c := p.find("41-10+37-9"); c == nil || len(c.Keeps) != 1 || c.Keeps[0] != "rear" {
		t.Errorf("%+v", c)
	}
	// The next tires.
	if len(p.Next) != 2 || p.Next[0].Percent >= 0 || p.Next[1].Percent <= 0 {
		t.Errorf("next %+v", p.Next)
	}
}

func TestLeaveItWhereLittleChanged(t *testing.T) {
	q := plain()
	q.New = tire.Tire{RollingMM: fig("2448")} // two percent
	sets(&q, [2]int{41, 10}, [2]int{41, 9}, [2]int{43, 10})
	p := work(t, q)
	if p.Advice.Candidate != "leave" || !strings.Contains(p.Advice.Sentence, "Leave the gears at 4.10") {
		t.Errorf("%+v", p.Advice)
	}
	if len(p.Advice.Against) == 0 || !strings.Contains(strings.Join(p.Advice.Against, " "), "less pull") {
		t.Errorf("leaving it has no price: %v", p.Advice.Against)
	}
	if !p.Estimate.Low.IsZero() && p.Estimate.Candidate != "leave" {
		t.Errorf("%+v", p.Estimate)
	}
}

func TestUseDecidesTheSide(t *testing.T) {
	for use, want := range map[string]string{Highway: "r40_9", Towing: "r37_8", Trail: "r37_8"} {
		q := plain() // back to stock is 4.51
		q.Use = use
		sets(&q, [2]int{40, 9}, [2]int{37, 8})
		p := work(t, q)
		got := ""
		for _, s := range p.Schools {
			if s.ID == "by_use" {
				got = s.Pick
			}
		}
		if got != want {
			t.Errorf("%s picks %s, want %s", use, got, want)
		}
	}
}

func TestByTheNumbers(t *testing.T) {
	school := func(q Request) School {
		p := work(t, q)
		for _, s := range p.Schools {
			if s.ID == "by_the_numbers" {
				return s
			}
		}
		t.Fatal("no such school")
		return School{}
	}
	q := plain()
	sets(&q, [2]int{41, 10}, [2]int{41, 9}, [2]int{43, 9}, [2]int{39, 8})
	if s := school(q); s.Pick != "" || s.Target != nil {
		t.Errorf("without a wish it picks %s", s.Pick)
	}
	// With 4.1 it cruises at 1863.6; a band of 2150 to 2300 asks for
	// 4.73 to 5.06: 43/9 = 4.778 is nearest to 4.51, 39/8 = 4.875 is in it too.
	q.Cruise.LowRPM, q.Cruise.HighRPM = 2150, 2300
	s := school(q)
	near(t, "from", s.From.Float(), 2150/(2050/1.1)*4.1, 0.0002)
	near(t, "to", s.To.Float(), 2300/(2050/1.1)*4.1, 0.0002)
	if s.Pick != "r43_9" {
		t.Errorf("picks %s", s.Pick)
	}
	// A crawl that the axle alone can't give together with the band.
	q.CrawlKMH = 1.5
	if s := school(q); !strings.Contains(s.Text, "No single ratio gives it all") {
		t.Error(s.Text)
	}
}

func TestRuleOfThumb(t *testing.T) {
	rows := DefaultRule()
	for i, r := range rows {
		if r.Highway.Cmp(r.Mixed.Number) >= 0 || r.Mixed.Cmp(r.Trail.Number) >= 0 {
			t.Errorf("row %d: %v", i, r)
		}
		if i > 0 && r.Mixed.Cmp(rows[i-1].Mixed.Number) <= 0 {
			t.Errorf("row %d is no shorter than the one before", i)
		}
	}
	// 750 mm class: 775 mm · 3.05 = 2.36375 m; 2650 rpm at 100 km/h asks for
	// 2650 · 2.36375 · 60 ÷ 100000 = 3.758.
	v, from, ok := rule(rows, exact.Int(787), Mixed)
	if !ok || !from.Equal(exact.Int(750)) || v.Decimal(2) != "3.76" {
		t.Errorf("%v from %v %v", v, from, ok)
	}
	if _, _, ok := rule(rows, exact.Int(500), Mixed); ok {
		t.Error("a tire below the table has a row")
	}
	// The shop's own table decides.
	q := plain()
	sets(&q, [2]int{41, 9}, [2]int{37, 9})
	q.Shop.Rule = []RuleRow{{FromMM: fig("700"), Highway: fig("4"), Mixed: fig("4.1"), Trail: fig("4.5")}}
	for _, s := range work(t, q).Schools {
		if s.ID == "rule_of_thumb" && (s.Pick != "tires_only" || !s.Target.Equal(fig("4.1").Number)) {
			t.Errorf("%+v", s)
		}
	}
}

func TestCarriersAndRefusals(t *testing.T) {
	q := plain()
	sets(&q, [2]int{41, 9})
	q.Rear = AxleFacts{Carrier: &Span{fig("2.7"), fig("4.1")}}
	p := work(t, q)
	c := p.find("41-9+41-9")
	if c.Carriers[0].State != "other" || c.Carriers[1].State != "unknown" {
		t.Errorf("%+v", c.Carriers)
	}
	if !strings.Contains(c.Carriers[0].Text, "another carrier is needed") || !strings.Contains(c.Carriers[0].Text, "3.80 to 5.20") {
		t.Error(c.Carriers[0].Text)
	}
	// It is recommended only with that said.
	if p.Advice.Candidate == c.ID && !strings.Contains(strings.Join(p.Advice.Against, " "), "another carrier") {
		t.Errorf("%+v", p.Advice)
	}
	// A part-time case with ends more than one percent apart is never recommended.
	q = plain()
	q.Shop.Sets = []GearSet{
		{ID: "a", Family: "R", Ring: 41, Pinion: 9, Price: fig("1")},
		{ID: "b", Family: "F", Ring: 46, Pinion: 10, Price: fig("1")},
	}
	q.Rear.Family, q.Front.Family = "R", "F"
	q.Plain.Front = PlainAxle{Ring: 41, Pinion: 9}
	p = work(t, q)
	c = p.find("41-9+46-10")
	if c == nil || c.Match.Level != "tolerated" {
		t.Fatalf("%+v", c)
	}
	near(t, "mismatch", *c.Match.Percent, (4.6/(41.0/9)-1)*100, 1e-6)
	q.Shop.Sets[1] = GearSet{ID: "b", Family: "F", Ring: 37, Pinion: 8}
	q.Plain.Front = PlainAxle{Ring: 37, Pinion: 8}
	p = work(t, q)
	if c = p.find("41-9+37-8"); c == nil || c.Refused == "" {
		t.Errorf("1.5 %% apart isn't refused: %+v", c)
	}
	if !strings.HasPrefix(p.Advice.Sentence, "Nothing here can be recommended") {
		t.Error("recommends what binds: " + p.Advice.Sentence)
	}
}

func TestFamiliesDoNotMix(t *testing.T) {
	q := plain()
	sets(&q, [2]int{41, 9})
	q.Shop.Sets = append(q.Shop.Sets, GearSet{ID: "x", Family: "Skerry 9", Ring: 43, Pinion: 9})
	q.Rear.Family, q.Front.Family = "varn 220 ", "Varn 220"
	for _, c := range work(t, q).Candidates {
		if c.Rear != nil && c.Rear.Family != "Varn 220" {
			t.Errorf("offers %s of %s", c.Name, c.Rear.Family)
		}
	}
}

// 41/10 is made for two housings here. Unless the axle's family is named,
// whatever is recommended says so, and carriers that differ aren't guessed.
func TestUnnamedFamilyIsTold(t *testing.T) {
	q := plain()
	sets(&q, [2]int{41, 10}, [2]int{41, 9})
	q.Shop.Sets = append(q.Shop.Sets, GearSet{ID: "s", Family: "Skerry 9", Ring: 41, Pinion: 10, Shelf: 1, Carrier: &Span{fig("3.5"), fig("7")}})
	p := work(t, q)
	if p.Advice.Candidate != "41-9+41-9" {
		t.Fatalf("recommends %s", p.Advice.Candidate)
	}
	against := strings.Join(p.Advice.Against, "\n")
	for _, at := range []string{"rear", "front"} {
		if !strings.Contains(against, "The family of the "+at+" axle isn't named") || !strings.Contains(against, "Varn 220 and Skerry 9") {
			t.Errorf("%s is not told: %s", at, against)
		}
	}
	if c := p.find("41-9+41-9"); c.Carriers[0].State != "unknown" {
		t.Errorf("carrier %+v", c.Carriers[0])
	}
	q.Rear.Family, q.Front.Family = "Varn 220", "Varn 220"
	p = work(t, q)
	if strings.Contains(strings.Join(p.Advice.Against, "\n"), "isn't named") || p.find("41-9+41-9").Carriers[0].State != "fits" {
		t.Errorf("named, but %v, %+v", p.Advice.Against, p.find("41-9+41-9").Carriers[0])
	}
}

// 41/10 on tires ten percent larger, and nothing near 4.51 to be had.
func TestLeaveItForWantOfBetter(t *testing.T) {
	q := plain()
	sets(&q, [2]int{43, 13}, [2]int{41, 13})
	q.Rear.Family, q.Front.Family = "Varn 220", "Varn 220"
	p := work(t, q)
	if p.Advice.Candidate != "leave" || !strings.Contains(p.Advice.Sentence, "no set in the catalog comes nearer") || !strings.Contains(p.Advice.Sentence, "9.1 % taller") {
		t.Error(p.Advice.Sentence)
	}
	if !strings.Contains(strings.Join(p.Notes, "\n"), "41/10, is no set of Varn 220 in the catalog: is the family right?") {
		t.Errorf("%v", p.Notes)
	}
	// With 39/8 = 4.875 on the shelf leaving it is a choice, not a need.
	sets(&q, [2]int{39, 8})
	if p = work(t, q); strings.Contains(p.Advice.Sentence, "comes nearer") {
		t.Error(p.Advice.Sentence)
	}
}

// What a driveline's parts are called needs no second naming.
func TestFamilyFromTheDriveline(t *testing.T) {
	for _, l := range driveline.Layouts() {
		if l.ID != "part_time" {
			continue
		}
		d := l.Document
		for i := range d.Parts {
			switch d.Parts[i].Kind {
			case "axle":
				d.Parts[i].Family = "Varn 220"
			case "transfer_case":
				d.Parts[i].Family = "Holt T2"
			}
		}
		q := Request{Driveline: &d, Old: tire.Tire{RollingMM: fig("2400")}, New: tire.Tire{RollingMM: fig("2640")}}
		sets(&q, [2]int{41, 9})
		q.Shop.Sets = append(q.Shop.Sets, GearSet{ID: "s", Family: "Skerry 9", Ring: 43, Pinion: 9})
		q.Shop.LowSets = []LowSet{{ID: "a", Family: "Holt T2", Name: "slow", Ratio: fig("4")}, {ID: "b", Family: "Varn G", Name: "other", Ratio: fig("4")}}
		p := work(t, q)
		if len(p.LowSets) != 1 || p.LowSets[0].ID != "a" {
			t.Errorf("low sets %+v", p.LowSets)
		}
		for _, c := range p.Candidates {
			if c.Rear != nil && c.Rear.Family != "Varn 220" {
				t.Errorf("offers %s", c.Rear.Family)
			}
		}
		if p.Axles[0].Family != "Varn 220" {
			t.Errorf("%+v", p.Axles[0])
		}
		return
	}
	t.Fatal("no part-time layout")
}

func TestEstimateByHand(t *testing.T) {
	q := plain()
	sets(&q, [2]int{41, 9})
	q.Front.Type = "independent"
	q.Shop.Prices = []Price{
		{Item: ItemKit, Low: fig("120"), High: fig("150")},
		{Item: ItemLabor, Axle: "solid_rear", Low: fig("4"), High: fig("5.5")},
		{Item: ItemLabor, Axle: "independent_front", Low: fig("7"), High: fig("9")},
		{Item: ItemRate, Low: fig("80"), High: fig("80")},
		{Item: ItemOil, Low: fig("25.50"), High: fig("30")},
		{Item: ItemKit, Axle: "independent_front", Family: "Varn 220", Low: fig("200"), High: fig("220")},
	}
	p := work(t, q)
	e := p.Estimate
	// Rear 400 + 120 + 25.50 + 320, front 400 + 200 + 25.50 + 560.
	if e.Candidate != "41-9+41-9" || !e.Low.Equal(fig("2051").Number) {
		t.Errorf("%s low %v", e.Candidate, e.Low)
	}
	// Rear 400 + 150 + 30 + 440, front 400 + 220 + 30 + 720.
	if !e.High.Equal(fig("2390").Number) {
		t.Errorf("high %v", e.High)
	}
	if len(e.Missing) != 1 || !strings.Contains(e.Missing[0], "calibration") {
		t.Errorf("missing %v", e.Missing)
	}
	if p.find("41-9+41-9").Complete {
		t.Error("complete without a calibration")
	}
	// Another candidate on request.
	q.Chosen = "leave"
	q.Shop.Prices = append(q.Shop.Prices, Price{Item: ItemCalibration, Low: fig("40"), High: fig("90")})
	if e := work(t, q).Estimate; e.Candidate != "leave" || !e.High.Equal(exact.Int(90)) {
		t.Errorf("%+v", e)
	}
}

func TestReverseFactoryAndLowSets(t *testing.T) {
	q := plain()
	sets(&q, [2]int{41, 9})
	q.Shop.Tires = []Stocked{{"a", tire.Tire{RollingMM: fig("2400")}}, {"b", tire.Tire{RollingMM: fig("2670")}}, {"c", tire.Tire{RollingMM: fig("3000")}}}
	q.Shop.Factory = []Factory{{Line: "Varn Hauler", Name: "forestry package", Tire: "31x10.50R15", Ratio: fig("4.56")}}
	q.Shop.LowSets = []LowSet{{ID: "slow", Family: "Holt T2", Name: "slow set", Ratio: fig("4.05")}, {ID: "same", Family: "Holt T2", Name: "as is", Ratio: fig("2.7")}}
	p := work(t, q)
	// 41/9 suits 2400 · (41/9) ÷ 4.1 = 2666.67 mm.
	r := p.Reverse[len(p.Reverse)-1]
	near(t, "reverse", r.RollingMM.Float(), 2400*41.0/9/4.1, 1e-6)
	if r.Tires[0].Name != "b" || !r.Tires[0].Fits || r.Tires[2].Fits {
		t.Errorf("%+v", r.Tires)
	}
	if p.Reverse[0].Candidate != "leave" || p.Reverse[0].Tires[0].Name != "a" {
		t.Errorf("%+v", p.Reverse[0])
	}
	// 4.56 on 2401.57 mm is like 5.0127 on 2640.
	near(t, "factory", p.Factory[0].Equals.Float(), 4.56*2640/(787.4*3.05), 1e-6)
	if len(p.LowSets) != 1 || p.LowSets[0].ID != "slow" {
		t.Fatalf("%+v", p.LowSets)
	}
	// 4 · 4.05 · 4.1 = 66.42.
	if !p.LowSets[0].Crawl.Equal(fig("66.42").Number) {
		t.Errorf("crawl %v", p.LowSets[0].Crawl)
	}
	found := false
	for _, x := range p.WhileOpen {
		found = found || strings.Contains(x.What, "Low-range")
	}
	if !found {
		t.Error("the low set isn't listed before the case is closed")
	}
}

func TestMass(t *testing.T) {
	q := plain()
	q.Old.MassKG, q.New.MassKG = 24, 34
	p := work(t, q)
	// 4 · 10 · 1.75.
	if p.Mass == nil || p.Mass.ExtraKG != 40 || p.Mass.ActsLike != 70 {
		t.Errorf("%+v", p.Mass)
	}
}

func TestStockThatIsNotInIt(t *testing.T) {
	q := plain()
	q.Stock = &Stock{Ratio: fig("3.73"), Tire: &tire.Tire{RollingMM: fig("2200")}}
	p := work(t, q)
	near(t, "equivalent", p.Equivalent.Float(), 3.73*2640/2200, 1e-9)
	near(t, "before against stock", p.Before.Against, (4.1*2200/2400/3.73-1)*100, 1e-6)
}

func TestFromDrivelines(t *testing.T) {
	for _, l := range driveline.Layouts() {
		if l.Document.Lies != driveline.Vehicle {
			continue
		}
		d := l.Document
		q := Request{Driveline: &d, New: tire.Tire{Marking: "31x10.50R15"}}
		sets(&q, [2]int{41, 10}, [2]int{41, 9}, [2]int{43, 12})
		p, err := Work(q)
		if err != nil {
			t.Errorf("%s: %v", l.ID, err)
			continue
		}
		// The plan's gears before are the driveline's own: overall is gear ×
		// range × axle × hub, and does not hang on the front axle.
		if p.Before.CruiseRPM <= 0 || p.Before.Crawl.Float() < 2 || len(p.Candidates) < 2 {
			t.Errorf("%s: %+v", l.ID, p.Before)
		}
	}
	// A boat has no driven axle.
	for _, l := range driveline.Layouts() {
		if l.ID == "outboard" {
			d := l.Document
			if _, err := Work(Request{Driveline: &d, New: tire.Tire{Marking: "31x10.50R15"}}); err == nil || !strings.Contains(err.Error(), "no driven axle") {
				t.Errorf("%v", err)
			}
		}
		if l.ID == "part_time" {
			d := l.Document.Blank()
			if _, err := Work(Request{Driveline: &d, Old: tire.Tire{Marking: "225/75R16"}, New: tire.Tire{Marking: "31x10.50R15"}}); err == nil || !strings.Contains(err.Error(), "isn't known") {
				t.Errorf("%v", err)
			}
		}
	}
}

func TestRefuses(t *testing.T) {
	for field, change := range map[string]func(*Request){
		"driveline":            func(q *Request) { q.Plain = nil },
		"plain":                func(q *Request) { d := driveline.Layouts()[0].Document; q.Driveline = &d },
		"new_tire/marking":     func(q *Request) { q.New = tire.Tire{Marking: "x"} },
		"old_tire/marking":     func(q *Request) { q.Old = tire.Tire{} },
		"speed_unit":           func(q *Request) { q.SpeedUnit = "kn" },
		"use":                  func(q *Request) { q.Use = "racing" },
		"cruise/gear":          func(q *Request) { q.Cruise.Gear = "9" },
		"cruise/high_rpm":      func(q *Request) { q.Cruise.LowRPM, q.Cruise.HighRPM = 2500, 2000 },
		"cruise/kmh":           func(q *Request) { q.Cruise.KMH = math.NaN() },
		"crawl_kmh":            func(q *Request) { q.CrawlKMH = -1 },
		"launch_percent":       func(q *Request) { q.Launch = 1000 },
		"shift_rpm":            func(q *Request) { q.ShiftRPM = 1 },
		"torque/1/rpm":         func(q *Request) { q.Torque = []Point{{2000, 100}, {1000, 100}} },
		"speeds_kmh/0":         func(q *Request) { q.SpeedsKMH = []float64{-3} },
		"rear/type":            func(q *Request) { q.Rear.Type = "wooden" },
		"rear/carrier/to":      func(q *Request) { q.Rear.Carrier = &Span{fig("4"), fig("3")} },
		"shop/sets/0/ring":     func(q *Request) { q.Shop.Sets = []GearSet{{Ring: 41}} },
		"shop/low_sets/0":      func(q *Request) { q.Shop.LowSets = []LowSet{{}} },
		"plain/rear":           func(q *Request) { q.Plain.Rear, q.Plain.Front = PlainAxle{}, PlainAxle{} },
		"plain/ranges":         func(q *Request) { q.Plain.Ranges = []PlainRange{{"high", fig("1")}} },
		"plain/ranges/0/name":  func(q *Request) { q.Plain.Ranges = []PlainRange{{"crawler", fig("4")}} },
		"chosen":               func(q *Request) { q.Chosen = "nothing" },
		"stock/ratio":          func(q *Request) { q.Stock = &Stock{Ratio: fig("-4")} },
		"stock/tire/marking":   func(q *Request) { q.Stock = &Stock{Tire: &tire.Tire{}} },
		"new_front_tire/marki": func(q *Request) { q.NewFront = &tire.Tire{} },
	} {
		q := plain()
		change(&q)
		_, err := Work(q)
		if err == nil || !strings.HasPrefix(err.Error(), field) {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// tenSpeed is the benchmark: a ten-speed four-wheel unit and 200 pairs.
func tenSpeed() Request {
	q := Request{Plain: &Plain{Ranges: []PlainRange{{"high", fig("1")}, {"low", fig("2.72")}}, Rear: PlainAxle{Ring: 41, Pinion: 10}, Front: PlainAxle{Ring: 41, Pinion: 10}},
		Old: tire.Tire{Marking: "225/75R16"}, New: tire.Tire{Marking: "31x10.50R15"}, Cruise: Cruise{KMH: 90, LowRPM: 1800, HighRPM: 2400}, CrawlKMH: 2}
	for i, r := range []string{"12.8", "9.46", "7", "5.18", "3.83", "2.8", "2.07", "1.53", "1.14", "0.84"} {
		q.Plain.Gears = append(q.Plain.Gears, PlainGear{fmt.Sprint(i + 1), fig(r)})
	}
	n := 0
	for pinion := 8; pinion <= 13; pinion++ {
		for ring := 35; ring <= 47 && n < 72; ring++ {
			sets(&q, [2]int{ring, pinion})
			n++
		}
	}
	return q
}

func TestPairsInTheBenchmark(t *testing.T) {
	p := work(t, tenSpeed())
	pairs := 0
	for _, c := range p.Candidates {
		if c.Front != nil {
			pairs++
		}
	}
	if pairs < 150 {
		t.Errorf("only %d pairs", pairs)
	}
}

func BenchmarkPlan(b *testing.B) {
	q := tenSpeed()
	for b.Loop() {
		if _, err := Work(q); err != nil {
			b.Fatal(err)
		}
	}
}

// BenchmarkPlanBare is the arithmetic alone: every gear of every pair at every
// speed in floating point.
func BenchmarkPlanBare(b *testing.B) {
	q := tenSpeed()
	sum := 0.0
	for b.Loop() {
		for _, s := range q.Shop.Sets {
			axle := float64(s.Ring) / float64(s.Pinion)
			for _, r := range q.Plain.Ranges {
				for _, g := range q.Plain.Gears {
					o := g.Ratio.Float() * r.Ratio.Float() * axle
					for v := 10.0; v <= 140; v += 10 {
						sum += v * 1000 / 60 / 2.4016 * o
					}
				}
			}
		}
	}
	if sum == 0 {
		b.Fatal("nothing computed")
	}
}

// Sentences speak the unit that is asked for; figures stay km/h.
func TestSpeedsInMiles(t *testing.T) {
	q := plain()
	q.Cruise.KMH, q.CrawlKMH = 96.56064, 1.609344
	q.Cruise.LowRPM, q.Cruise.HighRPM = 1000, 1200
	sets(&q, [2]int{41, 9})
	metric := work(t, q)
	q.SpeedUnit = "mph"
	miles := work(t, q)
	if metric.Before.CruiseRPM != miles.Before.CruiseRPM || metric.Before.CrawlKMH != miles.Before.CrawlKMH {
		t.Error("figures follow the unit of the sentences")
	}
	all := func(p *Plan) string {
		s := strings.Join(append(append([]string{}, p.Advice.For...), p.Advice.Against...), "\n")
		for _, x := range p.Schools {
			s += "\n" + x.Text
		}
		for _, c := range p.Candidates {
			for _, x := range c.Points {
				s += "\n" + x.Text
			}
		}
		return s
	}
	if s := all(miles); strings.Contains(s, "km/h") || !strings.Contains(s, "at 60 mph") || !strings.Contains(s, "1 mph") {
		t.Errorf("in miles: %s", s)
	}
	if s := all(metric); strings.Contains(s, "mph") || !strings.Contains(s, "at 97 km/h") {
		t.Errorf("in kilometers: %s", s)
	}
}

// What all of it stands on is told: measured, read off, assumed, in conflict.
func TestTrustInTheAxles(t *testing.T) {
	for _, c := range []struct {
		source  driveline.Source
		forIt   string
		against string
		sure    string
	}{
		{driveline.Source{Kind: "measured", Probability: 0.99987}, "The rear axle's 4.10 is measured, practically certain.", "", ""},
		{driveline.Source{Kind: "plate", Text: "tag"}, "", "The rear axle's 4.10 is read from a plate or tag", ""},
		{driveline.Source{Kind: "assumed", Probability: 0.8716}, "", "The rear axle's 4.10 is assumed, about 9 in 10", ""},
		{driveline.Source{Kind: "conflict", Probability: 0.6}, "", "The rear axle's 4.10 is in conflict", "First settle what is in the rear axle"},
		{driveline.Source{}, "", "", ""},
	} {
		var d driveline.Document
		for _, l := range driveline.Layouts() {
			if l.ID == "part_time" {
				d = l.Document
			}
		}
		for i := range d.Parts {
			if p := &d.Parts[i]; p.Kind == "axle" {
				p.Axle.Ring, p.Axle.Pinion, p.Sources = 41, 10, nil
				if p.ID == "rear" && c.source.Kind != "" {
					p.Sources = map[string]driveline.Source{"ratio": c.source}
				}
			}
		}
		q := Request{Driveline: &d, Old: tire.Tire{RollingMM: fig("2400")}, New: tire.Tire{RollingMM: fig("2640")}}
		sets(&q, [2]int{41, 10}, [2]int{41, 9})
		p := work(t, q)
		has := func(list []string, text string) bool { return strings.Contains(strings.Join(list, "\n"), text) }
		if !has(p.Advice.For, c.forIt) || !has(p.Advice.Against, c.against) || !strings.HasPrefix(p.Advice.Sure, c.sure) {
			t.Errorf("%s: for %v, against %v, %s", c.source.Kind, p.Advice.For, p.Advice.Against, p.Advice.Sure)
		}
		if c.source.Kind == "" && (has(p.Advice.For, "The rear axle's 4.10 is") || has(p.Advice.Against, "The rear axle's 4.10 is")) {
			t.Errorf("nothing is known of it, and yet: %v %v", p.Advice.For, p.Advice.Against)
		}
	}
}
