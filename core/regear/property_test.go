package regear

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"zorvel/core/driveline"
	"zorvel/core/driveline/trace"
	"zorvel/core/exact"
	"zorvel/core/tire"
)

// drawn is a random vehicle with a random shelf: what a test reckons with in
// plain floating point beside what the plan says.
type drawn struct {
	q      Request
	gears  []float64
	ranges []float64
	axle   float64
	oldMM  float64
	newMM  float64
}

func draw(r *rand.Rand, four bool) drawn {
	pick := func(lo, hi int) int { return lo + r.IntN(hi-lo+1) }
	d := drawn{ranges: []float64{1}}
	d.oldMM, d.newMM = float64(pick(1700, 3300)), float64(pick(1700, 3300))
	ring, pinion := pick(33, 49), pick(7, 13)
	d.axle = float64(ring) / float64(pinion)
	plain := &Plain{Rear: PlainAxle{Ring: ring, Pinion: pinion}}
	if four {
		plain.Front = plain.Rear
		low := float64(pick(180, 420)) / 100
		d.ranges = append(d.ranges, low)
		plain.Ranges = []PlainRange{{"high", fig("1")}, {"low", fig(fmt.Sprint(low))}}
	}
	g := float64(pick(300, 700)) / 100
	for i := range pick(3, 10) {
		d.gears = append(d.gears, g)
		plain.Gears = append(plain.Gears, PlainGear{fmt.Sprint(i + 1), fig(fmt.Sprint(g))})
		g = math.Round(g*float64(pick(55, 85))) / 100
	}
	d.q = Request{Plain: plain, Old: tire.Tire{RollingMM: fig(fmt.Sprint(d.oldMM))}, New: tire.Tire{RollingMM: fig(fmt.Sprint(d.newMM))},
		Cruise: Cruise{KMH: float64(pick(50, 120))}, ShiftRPM: float64(pick(2000, 6000)), IdleRPM: float64(pick(500, 1000)), SpeedsKMH: []float64{20, 55, 90},
		Use: []string{Highway, Mixed, Towing, Trail}[r.IntN(4)]}
	if r.IntN(2) == 0 {
		d.q.Cruise.LowRPM = float64(pick(1200, 2200))
		d.q.Cruise.HighRPM = d.q.Cruise.LowRPM + float64(pick(100, 900))
	}
	if r.IntN(2) == 0 {
		d.q.CrawlKMH = float64(pick(10, 60)) / 10
	}
	for range pick(1, 14) {
		set := GearSet{Family: "Varn 220", Ring: pick(33, 49), Pinion: pick(7, 13), Shelf: r.IntN(3), Price: fig(fmt.Sprint(pick(200, 900)))}
		set.ID = fmt.Sprint(set.Ring, "-", set.Pinion)
		d.q.Shop.Sets = append(d.q.Shop.Sets, set)
	}
	d.q.Rear.Family, d.q.Front.Family = "Varn 220", "Varn 220"
	return d
}

// Every figure of every variant, reckoned again in floating point by the
// textbook: rpm = v ÷ rolling · overall, thrust = 2π · overall ÷ rolling.
func TestVariantsAgainstFloatingPoint(t *testing.T) {
	r := rand.New(rand.NewPCG(11, 4))
	for n := range 120 {
		d := draw(r, n%2 == 0)
		p := work(t, d.q)
		check := func(v *Variant, axle, mm float64) {
			t.Helper()
			if len(v.Rows) != len(d.gears)*len(d.ranges) {
				t.Fatalf("%d rows for %d gears in %d ranges", len(v.Rows), len(d.gears), len(d.ranges))
			}
			close := func(what string, got, want float64) {
				t.Helper()
				if math.Abs(got-want) > 0.0002*math.Abs(want)+0.006 {
					t.Errorf("draw %d, %s, %s: %v, want %v", n, v.Name, what, got, want)
				}
			}
			k := 0
			for _, row := range v.Rows {
				gear, rng := d.gears[k/len(d.ranges)], d.ranges[k%len(d.ranges)]
				k++
				overall := gear * rng * axle
				close("overall", row.Overall.Float(), overall)
				close("acts like", row.ActsLike, overall*d.oldMM/mm)
				close("thrust", row.Thrust, overall*2*math.Pi/(mm/1000))
				close("kmh per 1000", row.KMH, 1000/overall*mm/1000*60/1000)
				close("shift", row.ShiftKMH, d.q.ShiftRPM/overall*mm/1000*60/1000)
				for i, s := range d.q.SpeedsKMH {
					close(fmt.Sprint("rpm at ", s), row.RPM[i], s*1000/60/(mm/1000)*overall)
				}
			}
			tall := d.gears[len(d.gears)-1]
			for _, g := range d.gears {
				tall = math.Min(tall, g)
			}
			close("cruise", v.CruiseRPM, d.q.Cruise.KMH*1000/60/(mm/1000)*tall*axle)
			crawl := d.gears[0] * d.ranges[len(d.ranges)-1] * axle
			close("crawl", v.Crawl.Float(), crawl)
			close("crawl speed", v.CrawlKMH, d.q.IdleRPM/crawl*mm/1000*60/1000)
			close("effective", v.Effective.Float(), axle*d.oldMM/mm)
			close("against", v.Against, (axle/d.axle*d.oldMM/mm-1)*100)
			want := ""
			if b := d.q.Cruise; b.HighRPM > 0 {
				want = "in"
				if v.CruiseRPM < b.LowRPM {
					want = "below"
				}
				if v.CruiseRPM > b.HighRPM {
					want = "above"
				}
			}
			if got := v.InBand; want != "" && got != want {
				t.Errorf("draw %d, %s: %s the band, want %s at %v rpm", n, v.Name, got, want, v.CruiseRPM)
			}
		}
		check(&p.Before, d.axle, d.oldMM)
		check(&p.TiresOnly, d.axle, d.newMM)
		for i := range p.Variants {
			check(&p.Variants[i], p.Variants[i].Ratio.Float(), d.newMM)
		}
		if math.Abs(p.Equivalent.Float()-d.axle*d.newMM/d.oldMM) > 1e-9 {
			t.Errorf("equivalent %v", p.Equivalent)
		}
	}
}

// What every plan owes: leaving it is weighed, the recommended one is the best
// that isn't refused, points add up, and nothing binding is recommended.
func TestEveryPlanHoldsTogether(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 77))
	for n := range 150 {
		d := draw(r, n%3 != 0)
		p := work(t, d.q)
		best := p.find(p.Advice.Candidate)
		if best == nil || best.Refused != "" || p.find("leave") == nil {
			t.Fatalf("draw %d recommends %+v", n, best)
		}
		ids := map[string]bool{}
		for _, c := range p.Candidates {
			if ids[c.ID] {
				t.Errorf("draw %d: two candidates %s", n, c.ID)
			}
			ids[c.ID] = true
			sum := 0.0
			for _, x := range c.Points {
				if x.Points <= 0 || x.Text == "" {
					t.Errorf("draw %d, %s: a point %+v", n, c.ID, x)
				}
				sum += x.Points
			}
			if math.Abs(sum-c.Score) > 0.011*float64(len(c.Points)+1) {
				t.Errorf("draw %d, %s: points make %v, score %v", n, c.ID, sum, c.Score)
			}
			if lead := best.Score - c.Score; c.Refused == "" && lead > 1e-9 && (len(best.Schools) == 0 || lead > barely || len(c.Schools) > 0) {
				t.Errorf("draw %d: %s scores %v, %s is recommended with %v", n, c.ID, c.Score, best.ID, best.Score)
			}
			if v := p.variant(c.Variant); v == nil {
				t.Errorf("draw %d: %s has no variant", n, c.ID)
			}
			if c.Rear != nil && c.Front != nil {
				apart := (c.Front.Ratio().Float()/c.Rear.Ratio().Float() - 1) * 100
				if math.Abs(apart) > pairLimit+1e-6 {
					t.Errorf("draw %d: %s is %v %% apart", n, c.ID, apart)
				}
				if c.Match == nil || c.Match.Percent == nil || math.Abs(*c.Match.Percent-apart) > 1e-6 {
					t.Errorf("draw %d: %s matches %+v, want %v %%", n, c.ID, c.Match, apart)
				}
				// A part-time case takes up to one percent.
				if refused := math.Abs(apart) > 1; refused != (c.Refused != "") {
					t.Errorf("draw %d: %s is %v %% apart and refused %q", n, c.ID, apart, c.Refused)
				}
			}
		}
		for _, s := range p.Schools {
			if s.Pick != "" && s.Pick != "tires_only" && p.variant(s.Pick) == nil {
				t.Errorf("draw %d: %s picks %s", n, s.ID, s.Pick)
			}
		}
		// The nearest of the pool is the pick of back to stock.
		for _, v := range p.Variants {
			usable := false
			for _, c := range p.Candidates {
				usable = usable || (c.Variant == v.ID && c.Refused == "")
			}
			pick := p.Before
			for _, s := range p.Schools {
				if s.ID == "back_to_stock" {
					if x := p.variant(s.Pick); x != nil {
						pick = *x
					}
				}
			}
			off := func(x exact.Number) float64 { return math.Abs(math.Log(x.Float() / p.Equivalent.Float())) }
			if usable && off(v.Ratio) < off(pick.Ratio)-1e-9 {
				t.Errorf("draw %d: back to stock picks %v, but %v is nearer to %v", n, pick.Ratio, v.Ratio, p.Equivalent)
			}
		}
		if len(p.Next) != 2 || p.Next[0].Percent >= 0 || p.Next[1].Percent <= 0 {
			t.Errorf("draw %d: next %+v", n, p.Next)
		}
	}
}

// Swapping old and new turns every change round.
func TestPlanIsItsOwnInverse(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 5))
	for n := range 40 {
		d := draw(r, false)
		d.q.Shop.Sets = nil
		there := work(t, d.q)
		d.q.Old, d.q.New = d.q.New, d.q.Old
		back := work(t, d.q)
		if got := there.Equivalent.Mul(back.Equivalent).Div(there.Fitted.Mul(there.Fitted)); !got.Equal(exact.Int(1)) {
			t.Errorf("draw %d: there and back makes %v", n, got)
		}
		if there.TiresOnly.Against*back.TiresOnly.Against > 0 {
			t.Errorf("draw %d: %v and %v", n, there.TiresOnly.Against, back.TiresOnly.Against)
		}
	}
}

// Estimates add up by line, and every candidate's own is what is shown when it
// is chosen.
func TestEstimatesAddUp(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 1))
	prices := []Price{{Item: ItemRate, Low: fig("60"), High: fig("64")}, {Item: ItemLabor, Axle: "solid_rear", Low: fig("4.5"), High: fig("6")},
		{Item: ItemLabor, Axle: "solid_front", Low: fig("6"), High: fig("8.25")}, {Item: ItemKit, Low: fig("118"), High: fig("165.5")},
		{Item: ItemOil, Low: fig("26"), High: fig("34")}, {Item: ItemCalibration, Low: fig("35"), High: fig("90")}}
	for n := range 40 {
		d := draw(r, n%2 == 0)
		d.q.Shop.Prices = prices
		p := work(t, d.q)
		for _, c := range p.Candidates {
			q := d.q
			q.Chosen = c.ID
			e := work(t, q).Estimate
			low, high := exact.Int(0), exact.Int(0)
			for _, l := range e.Lines {
				if l.Low.Cmp(l.High) > 0 {
					t.Errorf("draw %d, %s: %+v", n, c.ID, l)
				}
				low, high = low.Add(l.Low), high.Add(l.High)
			}
			if !low.Equal(e.Low) || !high.Equal(e.High) {
				t.Errorf("draw %d, %s: lines make %v to %v, the estimate says %v to %v", n, c.ID, low, high, e.Low, e.High)
			}
			if e.Candidate != c.ID {
				t.Errorf("the estimate is of %s, want %s", e.Candidate, c.ID)
			}
			if c.ID != "leave" && (c.Low == nil || !c.Low.Equal(e.Low) || !c.High.Equal(e.High)) {
				t.Errorf("draw %d, %s: listed with %v to %v, chosen %v to %v", n, c.ID, c.Low, c.High, e.Low, e.High)
			}
			if len(p.Candidates) > 12 {
				break
			}
		}
	}
}

// No sentence of a plan holds a leftover of its making.
func TestSentencesAreWhole(t *testing.T) {
	r := rand.New(rand.NewPCG(21, 6))
	for n := range 60 {
		d := draw(r, n%2 == 0)
		p := work(t, d.q)
		all := append(append(append([]string{p.Advice.Sentence, p.Advice.Sure, p.Agreement}, p.Advice.For...), p.Advice.Against...), p.Notes...)
		for _, s := range p.Schools {
			all = append(all, s.Text, s.How)
		}
		for _, x := range p.Next {
			all = append(all, x.Text)
		}
		for _, s := range all {
			for _, bad := range []string{"%!", "NaN", "Inf", "? ", "  ", "map[", "<nil>", "-0 "} {
				if strings.Contains(s, bad) {
					t.Errorf("draw %d: %q holds %q", n, s, bad)
				}
			}
			if s == "" {
				t.Errorf("draw %d: an empty sentence", n)
			}
		}
	}
}

// What the next tire would ask for is what a plan for that tire asks for.
func TestNextTiresAreRealPlans(t *testing.T) {
	r := rand.New(rand.NewPCG(31, 13))
	for n := range 80 {
		d := draw(r, n%2 == 0)
		p := work(t, d.q)
		for _, x := range p.Next {
			q := d.q
			q.New = tire.Tire{RollingMM: exact.Figure{Number: x.RollingMM}}
			real := work(t, q)
			best, said := real.find(real.Advice.Candidate), real.find(x.Best)
			if said == nil {
				t.Errorf("draw %d: %s asks for %s, which a plan for it doesn't have", n, x.Name, x.Best)
				continue
			}
			if said.Score > best.Score+0.02 {
				t.Errorf("draw %d: on %s it would be %s (%v points); a plan for it says %s (%v)", n, x.Name, x.Best, said.Score, best.ID, best.Score)
			}
			if math.Abs(x.Equivalent.Float()-real.Equivalent.Float()) > 1e-9 {
				t.Errorf("draw %d: %s asks for %v, really %v", n, x.Name, x.Equivalent, real.Equivalent)
			}
			kept := real.find(p.Advice.Candidate)
			if v := real.variant(kept.Variant); math.Abs(v.CruiseRPM-x.CruiseRPM) > 0.02*1+1e-4*v.CruiseRPM || math.Abs(v.Against-x.Recommended) > 0.01 {
				t.Errorf("draw %d: the gears on %s make %v rpm and %v %%, really %v and %v", n, x.Name, x.CruiseRPM, x.Recommended, v.CruiseRPM, v.Against)
			}
		}
	}
}

// Tires that suit gears: on each of them the gears act like stock within what
// is said of it.
func TestReverseIsTheWayBack(t *testing.T) {
	r := rand.New(rand.NewPCG(17, 17))
	for n := range 60 {
		d := draw(r, false)
		for i := range 12 {
			d.q.Shop.Tires = append(d.q.Shop.Tires, Stocked{Name: fmt.Sprint("tire ", i), Tire: tire.Tire{RollingMM: fig(fmt.Sprint(1700 + r.IntN(1600)))}})
		}
		p := work(t, d.q)
		for _, x := range p.Reverse {
			v := p.variant(p.find(x.Candidate).Variant)
			if want := v.Ratio.Float() * d.oldMM / d.axle; math.Abs(x.RollingMM.Float()-want) > 1e-6 {
				t.Errorf("draw %d: %s suits a rolling of %v, want %v", n, x.Name, x.RollingMM, want)
			}
			for i, s := range x.Tires {
				want := (v.Ratio.Float()/s.RollingMM.Float()/(d.axle/d.oldMM) - 1) * 100
				if math.Abs(s.Against-want) > 0.001 || s.Fits != (math.Abs(s.Against) <= suitsWithin) {
					t.Errorf("draw %d: %s on %s is %v %% (fits %v), want %v", n, x.Name, s.Name, s.Against, s.Fits, want)
				}
				if i > 0 && math.Abs(s.Against) < math.Abs(x.Tires[i-1].Against)-1e-9 {
					t.Errorf("draw %d: tires aren't sorted by how they suit", n)
				}
			}
		}
	}
}

// Each use errs to its own side: daily highway never to the shorter one,
// towing and trail never to the taller one.
func TestByUseErrsToItsSide(t *testing.T) {
	r := rand.New(rand.NewPCG(23, 32))
	for n := range 100 {
		d := draw(r, n%2 == 0)
		p := work(t, d.q)
		for _, s := range p.Schools {
			if s.ID != "by_use" || s.Pick == "" {
				continue
			}
			v := p.variant(s.Pick)
			off := v.Ratio.Cmp(p.Equivalent)
			switch d.q.Use {
			case Highway:
				if off > 0 {
					t.Errorf("draw %d: highway picks %v above %v", n, v.Ratio, p.Equivalent)
				}
			case Towing, Trail:
				if off < 0 {
					t.Errorf("draw %d: %s picks %v below %v", n, d.q.Use, v.Ratio, p.Equivalent)
				}
			}
		}
	}
}

// A driveline and the plain figures of the same vehicle come to the same plan.
func TestPlainFiguresAndDrivelineAgree(t *testing.T) {
	for _, l := range driveline.Layouts() {
		if l.ID != "part_time" && l.ID != "full_time" && l.ID != "rear_drive" {
			continue
		}
		d := l.Document
		rows, err := trace.GearTable(&d)
		if err != nil {
			t.Fatal(err)
		}
		axles := d.Axles()
		plain := &Plain{Center: "part_time"}
		low := exact.Int(1)
		high := map[string]exact.Number{}
		for _, g := range rows {
			if g.Range != "low" {
				high[g.Name] = *g.Overall
				ratio := g.Overall.Div(axles[0].Ratio)
				if g.Reverse {
					ratio = ratio.Neg()
				}
				plain.Gears = append(plain.Gears, PlainGear{g.Name, exact.Figure{Number: ratio}})
			}
		}
		for _, g := range rows {
			if g.Range == "low" {
				low = g.Overall.Div(high[g.Name])
			}
		}
		if !low.Equal(exact.Int(1)) {
			plain.Ranges = []PlainRange{{"high", fig("1")}, {"low", exact.Figure{Number: low}}}
		}
		plain.Rear = PlainAxle{Ring: axles[0].Pair[0], Pinion: axles[0].Pair[1]}
		if len(axles) > 1 {
			plain.Front = PlainAxle{Ring: axles[1].Pair[0], Pinion: axles[1].Pair[1]}
		}
		if l.ID == "full_time" {
			plain.Center = "open"
		}
		old := tire.Tire{RollingMM: exact.Figure{Number: axles[0].RollingMM}}
		fresh := tire.Tire{RollingMM: exact.Figure{Number: axles[0].RollingMM.Mul(fig("1.1").Number)}}
		q := Request{Driveline: &d, Old: old, New: fresh, SpeedsKMH: []float64{30, 90}}
		sets(&q, axles[0].Pair, [2]int{41, 9}, [2]int{43, 9}, [2]int{37, 9}, [2]int{46, 11})
		q.Rear.Family, q.Front.Family = "Varn 220", "Varn 220"
		a := work(t, q)
		q.Driveline, q.Plain = nil, plain
		b := work(t, q)
		if a.Advice.Candidate != b.Advice.Candidate || !a.Equivalent.Equal(b.Equivalent) || len(a.Candidates) != len(b.Candidates) {
			t.Errorf("%s: %s (%v, %d candidates) by the driveline, %s (%v, %d) by plain figures", l.ID, a.Advice.Candidate, a.Equivalent, len(a.Candidates), b.Advice.Candidate, b.Equivalent, len(b.Candidates))
		}
		for _, c := range a.Candidates {
			x := b.find(c.ID)
			if x == nil {
				t.Errorf("%s: %s is no candidate by plain figures", l.ID, c.ID)
				continue
			}
			va, vb := a.variant(c.Variant), b.variant(x.Variant)
			if math.Abs(va.CruiseRPM-vb.CruiseRPM) > 0.02 || !va.Crawl.Equal(vb.Crawl) || len(va.Rows) != len(vb.Rows) {
				t.Errorf("%s, %s: %v rpm and %v by the driveline, %v and %v by plain figures", l.ID, c.ID, va.CruiseRPM, va.Crawl, vb.CruiseRPM, vb.Crawl)
			}
			if math.Abs(c.Score-x.Score) > 0.02 {
				t.Errorf("%s, %s: %v points by the driveline, %v by plain figures", l.ID, c.ID, c.Score, x.Score)
			}
		}
	}
}

// A shop with thousands of sets gets an answer that can be read: the nearest
// sets, with what is in the axle, and how many were left out.
func TestLongListsAreCut(t *testing.T) {
	q := draw(rand.New(rand.NewPCG(7, 7)), true).q
	q.Shop.Sets = nil
	for i := range 2000 {
		q.Shop.Sets = append(q.Shop.Sets, GearSet{ID: fmt.Sprint(i), Family: "Varn 220", Ring: 31 + i%60, Pinion: 7 + i/60})
	}
	p, err := Work(q)
	if err != nil {
		t.Fatal(err)
	}
	rears := map[string]bool{}
	far := 0.0
	for _, c := range p.Candidates {
		if c.Rear != nil {
			for _, also := range append(c.Also, c.Name) {
				rears[also] = true
			}
			if len(c.Keeps) == 0 {
				far = math.Max(far, math.Abs(c.Off))
			}
		}
	}
	if len(rears) < mostSets-1 || len(p.Candidates) > 4*(mostSets+1)+1 {
		t.Errorf("%d sets in %d candidates", len(rears), len(p.Candidates))
	}
	for _, g := range q.Shop.Sets {
		off := math.Abs(g.Ratio().Div(p.Equivalent).Float()-1) * 100
		weighed := slices.ContainsFunc(slices.Concat(p.Candidates, p.folded), func(c Candidate) bool { return c.Rear != nil && c.Rear.Ring == g.Ring && c.Rear.Pinion == g.Pinion })
		if off < far*0.9 && !weighed {
			t.Errorf("%d/%d is %.2f %% off and was left out; %.2f %% was weighed", g.Ring, g.Pinion, off, far)
		}
	}
	if !slices.ContainsFunc(p.Notes, func(n string) bool { return strings.Contains(n, "left out") }) {
		t.Errorf("nothing is said of what was left out: %v", p.Notes)
	}
}
