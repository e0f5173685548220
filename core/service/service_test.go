package service

import (
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
	"time"
)

func day(s string) time.Time {
	t, err := time.Parse("2006-01-02", s)
	if err != nil {
		panic(err)
	}
	return t
}

func num(v float64) *float64 { return &v }

func work1(t *testing.T, q Question) *Answer {
	t.Helper()
	a, err := Work(q)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := json.Marshal(a); err != nil {
		t.Fatal(err)
	}
	return a
}

var boat = []Part{{"case", "gearcase", "Gearcase"}}

func oil(hours, months float64) []Rule {
	return []Rule{{Kind: "gearcase", What: GearOil, Hours: hours, Months: months, Source: "manual, page 12"}}
}

// Whichever comes first, worked by hand.
func TestWhicheverComesFirst(t *testing.T) {
	done := []Done{{GearOil, "case", day("2026-03-01")}}
	for name, c := range map[string]struct {
		meters []Meter
		today  string
		state  string
		by     string
		on     string
	}{
		// 40 h in 100 days is 0.4 a day: 100 h are over on day 250, 6 November; the year ends later.
		"by hours":           {[]Meter{{At: day("2026-03-01"), Hours: num(500)}, {At: day("2026-06-09"), Hours: num(540)}}, "2026-06-09", Later, "hours", "2026-11-06"},
		"by date":            {[]Meter{{At: day("2026-03-01"), Hours: num(500)}, {At: day("2026-06-09"), Hours: num(505)}}, "2026-06-09", Later, "date", "2027-03-01"},
		"over by hours":      {[]Meter{{At: day("2026-03-01"), Hours: num(500)}, {At: day("2026-06-09"), Hours: num(601)}}, "2026-06-09", Overdue, "hours", "2026-06-08"},
		"over by date":       {[]Meter{{At: day("2026-03-01"), Hours: num(500)}, {At: day("2026-06-09"), Hours: num(505)}}, "2027-03-02", Overdue, "date", "2027-03-01"},
		"soon by hours":      {[]Meter{{At: day("2026-03-01"), Hours: num(500)}, {At: day("2026-06-09"), Hours: num(595)}}, "2026-06-09", Soon, "hours", "2026-06-14"},
		"no meter, by date":  {nil, "2026-06-09", Later, "date", "2027-03-01"},
		"run on since":       {[]Meter{{At: day("2026-03-01"), Hours: num(500)}, {At: day("2026-06-09"), Hours: num(540)}}, "2026-11-20", Overdue, "hours", "2026-11-06"},
		"a month before":     {[]Meter{{At: day("2026-03-01"), Hours: num(500)}, {At: day("2026-06-09"), Hours: num(505)}}, "2027-02-10", Soon, "date", "2027-03-01"},
		"a meter that rests": {[]Meter{{At: day("2026-03-01"), Hours: num(500)}, {At: day("2026-06-09"), Hours: num(500)}}, "2026-07-09", Later, "date", "2027-03-01"},
	} {
		a := work1(t, Question{Parts: boat, Rules: oil(100, 12), Done: done, Meters: c.meters, Today: day(c.today)})
		d := a.Due[0]
		if d.State != c.state || d.By != c.by || d.On == nil || math.Abs(d.On.Sub(day(c.on)).Hours()) > 25 {
			t.Errorf("%s: %s by %s on %v: %s", name, d.State, d.By, d.On, d.Words)
		}
		if !strings.Contains(d.Words, "every 100 h or 12 months") || d.Source != "manual, page 12" {
			t.Errorf("%s: %s", name, d.Words)
		}
	}
}

// A meter that was replaced goes on, one that rolled over has passed its last
// digit, one that is lower without a word is asked about.
func TestMetersReplacedAndRolledOver(t *testing.T) {
	q := Question{Parts: boat, Rules: oil(100, 0), Done: []Done{{GearOil, "case", day("2026-01-01")}}, Today: day("2026-09-01")}
	q.Meters = []Meter{{At: day("2026-01-01"), Hours: num(950)}, {At: day("2026-03-01"), Hours: num(980)}, {At: day("2026-03-02"), Hours: num(0), Change: Replaced}, {At: day("2026-09-01"), Hours: num(60)}}
	if a := work1(t, q); *a.Now.Hours != 1040 || *a.Due[0].Left != 10 {
		t.Errorf("%v hours, %v left", *a.Now.Hours, *a.Due[0].Left)
	}
	q.Meters = []Meter{{At: day("2026-01-01"), Hours: num(950)}, {At: day("2026-03-01"), Hours: num(20), Change: RolledOver}}
	if a := work1(t, q); *a.Now.Hours != 1020 {
		t.Errorf("%v hours", *a.Now.Hours)
	}
	q.Meters = []Meter{{At: day("2026-01-01"), KM: num(99950)}, {At: day("2026-03-01"), KM: num(150), Change: RolledOver}}
	if a := work1(t, q); *a.Now.KM != 100150 {
		t.Errorf("%v km", *a.Now.KM)
	}
	for name, list := range map[string][]Meter{
		"was the meter replaced": {{At: day("2026-01-01"), Hours: num(950)}, {At: day("2026-03-01"), Hours: num(940)}},
		"has not rolled over":    {{At: day("2026-01-01"), Hours: num(950)}, {At: day("2026-03-01"), Hours: num(960), Change: RolledOver}},
		"replaced, rolled_over":  {{At: day("2026-01-01"), Hours: num(950)}, {At: day("2026-03-01"), Hours: num(960), Change: "stolen"}},
		"from 0 to":              {{At: day("2026-01-01"), Hours: num(math.NaN())}},
	} {
		q.Meters = list
		if _, err := Work(q); err == nil || !strings.Contains(err.Error(), name) || !strings.Contains(err.Error(), "meters/") {
			t.Errorf("%s: %v", name, err)
		}
	}
	// Readings may arrive in any order.
	q.Meters = []Meter{{At: day("2026-09-01"), Hours: num(60)}, {At: day("2026-03-02"), Hours: num(0), Change: Replaced}, {At: day("2026-01-01"), Hours: num(950)}, {At: day("2026-03-01"), Hours: num(980)}}
	if a := work1(t, q); *a.Now.Hours != 1040 {
		t.Errorf("%v hours", *a.Now.Hours)
	}
}

// What is only due after something, and what is not on record.
func TestAfterAndUnknown(t *testing.T) {
	axle := []Part{{"rear", "axle", "Rear axle"}, {"front", "axle", "Front axle"}}
	rules := []Rule{{Kind: "axle", What: FirstOil, KM: 800, After: GearsFitted}, {Kind: "axle", What: Breather, Months: 12}, {Kind: "axle", What: "boots", Months: 12, Only: "boat"}}
	meters := []Meter{{At: day("2026-01-01"), KM: num(10000)}, {At: day("2026-02-01"), KM: num(10700)}}
	a := work1(t, Question{Lies: "vehicle", Parts: axle, Rules: rules, Done: []Done{{GearsFitted, "rear", day("2026-01-01")}}, Meters: meters, Today: day("2026-02-01")})
	if len(a.Due) != 3 || a.Due[0].What != FirstOil || a.Due[0].Part != "rear" || *a.Due[0].Left != 100 || a.Due[0].State != Soon || a.Due[1].State != Unknown {
		t.Errorf("%+v", a.Due)
	}
	// Done since, it isn't due any more; fitted again, it is.
	done := []Done{{GearsFitted, "rear", day("2026-01-01")}, {FirstOil, "rear", day("2026-01-20")}}
	if a := work1(t, Question{Parts: axle, Rules: rules[:1], Done: done, Meters: meters, Today: day("2026-02-01")}); len(a.Due) != 0 {
		t.Errorf("%+v", a.Due)
	}
	done = append(done, Done{GearsFitted, "rear", day("2026-01-25")})
	if a := work1(t, Question{Parts: axle, Rules: rules[:1], Done: done, Meters: meters, Today: day("2026-02-01")}); len(a.Due) != 1 {
		t.Errorf("%+v", a.Due)
	}
	// Sessions of a race car, and a rule of the whole unit.
	a = work1(t, Question{Parts: axle[:1], Rules: []Rule{{Kind: "axle", What: Flanges, Sessions: 1}, {Kind: "unit", What: "wash", Months: 1}}, Done: []Done{{Flanges, "rear", day("2026-01-01")}, {"wash", "", day("2026-01-30")}},
		Meters: []Meter{{At: day("2026-01-01"), Sessions: num(10)}, {At: day("2026-01-02"), Sessions: num(12)}}, Today: day("2026-02-01")})
	if a.Due[0].What != Flanges || a.Due[0].State != Overdue || a.Due[1].What != "wash" {
		t.Errorf("%+v", a.Due)
	}
	// A rule by hours alone, and nobody ever read the meter.
	a = work1(t, Question{Parts: boat, Rules: oil(100, 0), Done: []Done{{GearOil, "case", day("2026-01-01")}}, Today: day("2026-02-01")})
	if a.Due[0].State != Unknown || !strings.Contains(a.Due[0].Words, "never read") {
		t.Errorf("%+v", a.Due)
	}
}

func TestMerge(t *testing.T) {
	list := Merge([]Rule{{Kind: "gearcase", What: GearOil, Hours: 50, Source: "manual"}, {Kind: "gearcase", What: Anodes}, {Kind: "unit", What: "wash", Months: 1}})
	found := map[string]Rule{}
	for _, r := range list {
		if r.Kind == "gearcase" || r.Kind == "unit" {
			found[r.What] = r
		}
	}
	if found[GearOil].Hours != 50 || found[GearOil].Months != 0 || found["wash"].Months != 1 || found[Impeller].Source != ByMaker {
		t.Errorf("%+v", found)
	}
	if _, there := found[Anodes]; there {
		t.Error("a rule that the shop took away is there")
	}
	for _, r := range Typical() {
		if r.Source == "" || r.Hours+r.KM+r.Months+r.Sessions == 0 {
			t.Errorf("%+v", r)
		}
	}
}

func TestRefusesService(t *testing.T) {
	ok := Question{Parts: boat, Rules: oil(100, 12), Today: day("2026-01-01")}
	for field, change := range map[string]func(*Question){
		"today":         func(q *Question) { q.Today = time.Time{} },
		"rules/0/hours": func(q *Question) { q.Rules = []Rule{{Kind: "gearcase", What: "x"}} },
		"rules/0/what":  func(q *Question) { q.Rules = []Rule{{Kind: "gearcase", Hours: 1}} },
		"done":          func(q *Question) { q.Done = make([]Done, MostDone+1) },
	} {
		q := ok
		change(&q)
		if _, err := Work(q); err == nil || !strings.Contains(err.Error(), field) {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// However it runs, what is over stays over as days and hours go by, and what is
// due comes no later than either of its limits.
func TestDueOnlyComesNearer(t *testing.T) {
	r := rand.New(rand.NewPCG(15, 1))
	for range 300 {
		start := day("2025-01-01")
		hours, at := 100*r.Float64(), start
		q := Question{Parts: boat, Rules: oil(20+100*r.Float64(), math.Floor(1+24*r.Float64())), Done: []Done{{GearOil, "case", start}}}
		last := math.Inf(1)
		over := false
		for range 12 {
			at = at.AddDate(0, 0, 1+r.IntN(60))
			hours += 20 * r.Float64()
			q.Meters = append(q.Meters, Meter{At: at, Hours: num(hours)})
			q.Today = at
			d := work1(t, q).Due[0]
			if over && d.State != Overdue {
				t.Fatalf("over, then %s: %+v", d.State, d)
			}
			over = d.State == Overdue
			left := q.Rules[0].Hours - (hours - *q.Meters[0].Hours)
			if left < 0 && !over {
				t.Fatalf("%v hours left, and %s", left, d.State)
			}
			if left > last {
				t.Fatalf("%v after %v", left, last)
			}
			last = left
		}
	}
}

func TestMonths(t *testing.T) {
	for _, c := range []struct {
		from   string
		months float64
		want   string
	}{{"2026-01-31", 1, "2026-02-28"}, {"2024-01-31", 1, "2024-02-29"}, {"2026-01-15", 12, "2027-01-15"}, {"2026-01-15", 0.5, "2026-01-30"}, {"2026-08-31", 6, "2027-02-28"}} {
		if got := addMonths(day(c.from), c.months); !got.Equal(day(c.want)) {
			t.Errorf("%s and %v months: %v, want %s", c.from, c.months, got, c.want)
		}
	}
}

func ExampleWork() {
	hours := func(v float64) *float64 { return &v }
	a, err := Work(Question{
		Parts:  []Part{{"case", "gearcase", "Gearcase"}},
		Rules:  []Rule{{Kind: "gearcase", What: GearOil, Hours: 100, Months: 12}},
		Done:   []Done{{GearOil, "case", day("2026-03-01")}},
		Meters: []Meter{{At: day("2026-03-01"), Hours: hours(500)}, {At: day("2026-06-09"), Hours: hours(595)}},
		Today:  day("2026-06-09"),
	})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(a.Due[0].State, a.Due[0].Words)
	// Output:
	// soon at 600 h, about June 14, 2026 at 1 h a day; every 100 h or 12 months
}
