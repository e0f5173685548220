// Package service says what is due on a unit: by hours, distance, date or
// sessions, whichever comes first, from what was done and what its meters read.
//
// Rules are a shop's own, or typical and said to be: the maker's always come
// first.
package service

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"time"

	"zorvel/core/fault"
	"zorvel/core/say"
)

// Bounds of a question.
const (
	MostRules  = 500
	MostDone   = 5000
	MostMeters = 5000
	MostParts  = 200
	mostFigure = 1e9
)

// Rule is one thing that is due again and again on parts of a kind.
type Rule struct {
	Kind     string  `json:"kind"` // of part: axle, gearcase, …; or unit
	What     string  `json:"what"`
	Hours    float64 `json:"hours,omitempty"`
	KM       float64 `json:"km,omitempty"`
	Months   float64 `json:"months,omitempty"`
	Sessions float64 `json:"sessions,omitempty"`
	// After is what starts it, once: "gears fitted" has its oil changed after the
	// first 800 km. Empty: it is due again and again.
	After  string `json:"after,omitempty"`
	Only   string `json:"only,omitempty"` // vehicle or boat, where a kind is in both
	Source string `json:"source"`
}

// Part is a part of the unit.
type Part struct {
	ID   string `json:"id"`
	Kind string `json:"kind"`
	Name string `json:"name"`
}

// Done is something that was done.
type Done struct {
	What string    `json:"what"`
	Part string    `json:"part,omitempty"`
	At   time.Time `json:"at"`
}

// Changes of a meter.
const (
	Replaced   = "replaced"    // another meter, that began at what it reads now, less what was run since
	RolledOver = "rolled_over" // past its last digit
)

// Meter is what was read off at a time.
type Meter struct {
	At       time.Time `json:"at"`
	Hours    *float64  `json:"hours,omitempty"`
	KM       *float64  `json:"km,omitempty"`
	Sessions *float64  `json:"sessions,omitempty"`
	// Change says why a figure is lower than the one before.
	Change string `json:"change,omitempty"`
}

// Question is a unit with its rules, its past and its meters.
type Question struct {
	Lies   string    `json:"lies,omitempty"` // vehicle, boat or bench
	Parts  []Part    `json:"parts"`
	Rules  []Rule    `json:"rules"`
	Done   []Done    `json:"done"`
	Meters []Meter   `json:"meters"`
	Today  time.Time `json:"today"`
}

// States of what is due.
const (
	Overdue = "overdue"
	Soon    = "soon" // within a tenth of its interval, or a month
	Later   = "later"
	Unknown = "unknown" // not on record: it may be due
)

// Due is one thing with when it is due.
type Due struct {
	What   string     `json:"what"`
	Part   string     `json:"part,omitempty"`
	Name   string     `json:"name"`
	State  string     `json:"state"`
	By     string     `json:"by,omitempty"` // what comes first: hours, km, date or sessions
	On     *time.Time `json:"on,omitempty"` // by date, or expected at what it runs a day
	Left   *float64   `json:"left,omitempty"`
	Last   *time.Time `json:"last,omitempty"`
	Words  string     `json:"words"`
	Source string     `json:"source"`
}

// Answer is what is due, the most urgent first.
type Answer struct {
	Due []Due `json:"due"`
	Now Now   `json:"now"`
}

// Now is how far the unit has run, over all its meters, and what it runs a day.
type Now struct {
	Hours       *float64 `json:"hours,omitempty"`
	KM          *float64 `json:"km,omitempty"`
	Sessions    *float64 `json:"sessions,omitempty"`
	HoursPerDay float64  `json:"hours_per_day,omitempty"`
	KMPerDay    float64  `json:"km_per_day,omitempty"`
}

// counters are what is counted, in the order in which they are told.
var counters = []struct {
	by, unit string
	of       func(*Rule) float64
	read     func(*Meter) *float64
}{
	{"hours", "h", func(r *Rule) float64 { return r.Hours }, func(m *Meter) *float64 { return m.Hours }},
	{"km", "km", func(r *Rule) float64 { return r.KM }, func(m *Meter) *float64 { return m.KM }},
	{"sessions", "sessions", func(r *Rule) float64 { return r.Sessions }, func(m *Meter) *float64 { return m.Sessions }},
}

// Work says what is due. Faults are fault.Errors with paths within the question; a
// meter that reads less than before, and says not why, is one of them.
func Work(q Question) (*Answer, error) {
	w := &work{q: &q, a: &Answer{Due: []Due{}}}
	if err := w.check(); err != nil {
		return nil, err
	}
	if err := fault.Figures(q); err != nil {
		return nil, err
	}
	for i := range counters {
		w.now(i)
	}
	for i := range q.Rules {
		r := &q.Rules[i]
		if r.Only != "" && q.Lies != "" && r.Only != q.Lies {
			continue
		}
		if r.Kind == "unit" {
			w.due(r, Part{})
			continue
		}
		for _, p := range q.Parts {
			if p.Kind == r.Kind {
				w.due(r, p)
			}
		}
	}
	order := map[string]int{Overdue: 0, Soon: 1, Unknown: 2, Later: 3}
	slices.SortStableFunc(w.a.Due, func(a, b Due) int {
		if c := cmp.Compare(order[a.State], order[b.State]); c != 0 {
			return c
		}
		switch {
		case a.On == nil && b.On == nil:
			return 0
		case a.On == nil:
			return 1
		case b.On == nil:
			return -1
		}
		return a.On.Compare(*b.On)
	})
	return w.a, nil
}

type work struct {
	q     *Question
	a     *Answer
	total [3][]run // of each counter, over all meters, by time
	rate  [3]float64
}

// run is how far it had run at a time.
type run struct {
	at    time.Time
	total float64
}

func (w *work) check() error {
	q := w.q
	var errs fault.Errors
	for _, x := range []struct {
		field   string
		n, most int
	}{{"rules", len(q.Rules), MostRules}, {"done", len(q.Done), MostDone}, {"meters", len(q.Meters), MostMeters}, {"parts", len(q.Parts), MostParts}} {
		if x.n > x.most {
			errs.Add(x.field, "at most %d", x.most)
		}
	}
	if err := errs.Err(); err != nil {
		return err
	}
	for i := range q.Rules {
		r := &q.Rules[i]
		at := fmt.Sprintf("rules/%d/", i)
		if r.What == "" {
			errs.Add(at+"what", "what is to be done?")
		}
		some := false
		for _, v := range []float64{r.Hours, r.KM, r.Months, r.Sessions} {
			some = some || v > 0
			if !(v >= 0 && v <= mostFigure) {
				errs.Add(at+"hours", "intervals are from 0 to 1,000,000,000")
			}
		}
		if !some {
			errs.Add(at+"hours", "after how many hours, km, months or sessions?")
		}
	}
	if q.Today.IsZero() {
		errs.Add("today", "which day is it?")
	}
	slices.SortStableFunc(q.Meters, func(a, b Meter) int { return a.At.Compare(b.At) })
	if err := w.run(&errs); err != nil {
		return err
	}
	return errs.Err()
}

// run adds the meters up: a replaced one goes on where the former ended, one that
// rolled over has passed its last digit.
func (w *work) run(errs *fault.Errors) error {
	for c := range counters {
		last, base := math.NaN(), 0.0
		for i := range w.q.Meters {
			m := &w.q.Meters[i]
			p := counters[c].read(m)
			if p == nil {
				continue
			}
			v := *p
			field := fmt.Sprintf("meters/%d/%s", i, counters[c].by)
			if !(v >= 0 && v <= mostFigure) {
				errs.Add(field, "from 0 to 1,000,000,000")
				continue
			}
			switch {
			case math.IsNaN(last) || v >= last && m.Change == "":
			case m.Change == Replaced:
				base += last - v
			case m.Change == RolledOver && v < last:
				base += span(last)
			case m.Change == RolledOver:
				errs.Add(field, "it reads no less than before: it has not rolled over")
			case m.Change != "":
				errs.Add(fmt.Sprintf("meters/%d/change", i), "replaced, rolled_over, or nothing")
			default:
				errs.Add(field, "%s %s, and %s before: was the meter replaced, did it roll over, or is one of them wrong?", say.Trim(v, 1), counters[c].unit, say.Trim(last, 1))
			}
			last = v
			w.total[c] = append(w.total[c], run{m.At, base + v})
		}
	}
	return errs.Err()
}

// span is where a meter with that many digits begins anew.
func span(v float64) float64 {
	s := 1000.0
	for s <= v {
		s *= 10
	}
	return s
}

// now is how far it has run, and what it runs a day over the last year of
// readings, if they span two weeks.
func (w *work) now(c int) {
	list := w.total[c]
	if len(list) == 0 {
		return
	}
	last := list[len(list)-1]
	total := say.Round(last.total, 1)
	first := list[0]
	for _, r := range list {
		if last.at.Sub(r.at) <= 365*24*time.Hour {
			first = r
			break
		}
	}
	if days := last.at.Sub(first.at).Hours() / 24; days >= 14 {
		w.rate[c] = math.Max(0, (last.total-first.total)/days)
	}
	switch counters[c].by {
	case "hours":
		w.a.Now.Hours, w.a.Now.HoursPerDay = &total, say.Round(w.rate[c], 2)
	case "km":
		w.a.Now.KM, w.a.Now.KMPerDay = &total, say.Round(w.rate[c], 1)
	default:
		w.a.Now.Sessions = &total
	}
}

// at is how far it had run at a time: between two readings in proportion, outside
// of them as the nearest.
func (w *work) at(c int, t time.Time) (float64, bool) {
	list := w.total[c]
	if len(list) == 0 {
		return 0, false
	}
	if !t.After(list[0].at) {
		return list[0].total, true
	}
	for i := 1; i < len(list); i++ {
		if a, b := list[i-1], list[i]; !t.After(b.at) {
			part := t.Sub(a.at).Seconds() / b.at.Sub(a.at).Seconds()
			return a.total + part*(b.total-a.total), true
		}
	}
	return list[len(list)-1].total, true
}

// last is when something was last done at a part.
func (w *work) last(what, part string) *time.Time {
	var out *time.Time
	for i := range w.q.Done {
		d := &w.q.Done[i]
		if d.What == what && (d.Part == part || d.Part == "") && (out == nil || d.At.After(*out)) {
			out = &d.At
		}
	}
	return out
}

// due says when a rule is due at a part.
func (w *work) due(r *Rule, p Part) {
	d := Due{What: r.What, Part: p.ID, Name: p.Name, Source: r.Source, State: Later}
	from := w.last(r.What, p.ID)
	if r.After != "" {
		began := w.last(r.After, p.ID)
		if began == nil || from != nil && from.After(*began) {
			return // nothing has begun it, or it was done since
		}
		from = began
	} else {
		d.Last = from
	}
	if from == nil && r.Hours+r.KM+r.Months == 0 && len(w.total[2]) == 0 {
		return // of a unit that runs no sessions
	}
	if from == nil {
		d.State = Unknown
		d.Words = writeDown(r)
		w.a.Due = append(w.a.Due, d)
		return
	}
	w.byDate(r, &d, *from)
	for c := range counters {
		w.byCount(c, r, &d, *from)
	}
	if d.By == "" {
		d.State = Unknown
		d.Words = neverRead(from, r)
	} else {
		d.Words += "; " + r.interval()
	}
	w.a.Due = append(w.a.Due, d)
}

// byDate is due by the calendar.
func (w *work) byDate(r *Rule, d *Due, from time.Time) {
	if r.Months == 0 {
		return
	}
	on := addMonths(from, r.Months)
	left := on.Sub(w.q.Today).Hours() / 24
	d.take("date", on, left, left <= math.Max(31, r.Months*3), fmt.Sprintf("on %s", say.Day(on)))
}

// byCount is due by hours, distance or sessions, expected at what it runs a day.
func (w *work) byCount(c int, r *Rule, d *Due, from time.Time) {
	every := counters[c].of(r)
	if every == 0 || len(w.total[c]) == 0 {
		return
	}
	then, _ := w.at(c, from)
	now := w.total[c][len(w.total[c])-1].total
	// It has run on since its meter was last read.
	since := w.q.Today.Sub(w.total[c][len(w.total[c])-1].at).Hours() / 24
	expected := now + math.Max(0, since)*w.rate[c]
	left := then + every - expected
	on := time.Time{}
	if w.rate[c] > 0 {
		on = w.q.Today.Add(time.Duration(math.Min(math.Max(left/w.rate[c], -36500), 36500) * 24 * float64(time.Hour)))
	}
	words := atCount(then, every, c)
	if !on.IsZero() {
		words += w.aboutDay(on, c)
	}
	days := math.Inf(1)
	if !on.IsZero() {
		days = on.Sub(w.q.Today).Hours() / 24
	}
	d.take(counters[c].by, on, left, left <= every/10 || days <= 31, words)
}

// take keeps what comes first: what is over, then the earlier day.
func (d *Due) take(by string, on time.Time, left float64, soon bool, words string) {
	state := Later
	switch {
	case left < 0:
		state = Overdue
	case soon:
		state = Soon
	}
	rank := map[string]int{Overdue: 0, Soon: 1, Later: 2}
	if d.By != "" {
		switch {
		case rank[state] > rank[d.State]:
			return
		case rank[state] == rank[d.State] && (on.IsZero() || d.On != nil && !on.Before(*d.On)):
			return
		}
	}
	d.State, d.By, d.Words = state, by, words
	rounded := say.Round(left, 0)
	d.Left = &rounded
	d.On = nil
	if !on.IsZero() {
		d.On = &on
	}
}

// addMonths keeps to the last day of a shorter month; parts of a month count 30
// days.
func addMonths(t time.Time, months float64) time.Time {
	whole := int(months)
	out := t.AddDate(0, whole, 0)
	if out.Day() != t.Day() {
		out = out.AddDate(0, 0, -out.Day())
	}
	return out.Add(time.Duration((months - float64(whole)) * 30 * 24 * float64(time.Hour)))
}
