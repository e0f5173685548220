package practice

import (
	"fmt"
	"math"
	"slices"

	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/made"
	"zorvel/core/regear"
	"zorvel/core/tire"
)

// tiresKind hides nothing in a housing: other tires are on, and gears are ordered for them.
func tiresKind() kind {
	return kind{
		id: "tires", title: "Gears for other tires",
		about: "The tires have changed. Find out what counts, then order gears that make it drive as before.",
		levels: []string{
			"One driven axle, sizes by their markings",
			"Four-wheel drive",
			"It has been changed before: the tires it came with are not those that are on it",
		},
		draw: func(t Task) (hidden, error) { return newTiresUnit(t) },
	}
}

// sizes are tires that trucks and vans commonly wear.
var sizes = []string{"205/75R16", "225/75R16", "245/75R16", "235/85R16", "265/75R16", "285/75R16", "33x12.50R15",
	"35x12.50R15"}

// leastOff is how far the right order must be nearer than the next one, as a share.
const leastOff = 0.02

func newTiresUnit(t Task) (hidden, error) {
	r := t.source("unit")
	for range mostDraws {
		pair := made.Axle()[r.IntN(len(made.Axle()))]
		from, to, on := sizes[r.IntN(len(sizes))], sizes[r.IntN(len(sizes))], ""
		if t.Level == 3 {
			on = sizes[r.IntN(len(sizes))]
		}
		now := exact.New(int64(pair.Driven), int64(pair.Driver))
		if now.Float() < 3 || now.Float() > 5 || from == to || on == from || on == to {
			continue
		}
		u, ok, err := tiresUnit(t, pair, from, to, on)
		if err != nil {
			return nil, err
		}
		if ok {
			return u, nil
		}
	}
	return nil, errNoUnit
}

// mostDraws bounds how often figures are drawn until a task has one right answer; some ten
// do.
const mostDraws = 2000

var errNoUnit = fault.New("task/seed", "this number has no unit. Take another")

// tiresUnit is the task with these tires; not ok where the sizes roll nearly alike, or no
// order is clearly the right one.
func tiresUnit(t Task, pair made.Pair, from, to, on string) (*picked, bool, error) {
	p, err := regear.Work(regear.Request{
		Plain: &regear.Plain{Gears: []regear.PlainGear{{Name: "4", Ratio: exact.Figure{Number: exact.Int(1)}}},
			Rear: regear.PlainAxle{Ring: pair.Driven, Pinion: pair.Driver}},
		Old: tire.Tire{Marking: from}, New: tire.Tire{Marking: to},
	})
	if err != nil {
		return nil, false, err
	}
	now := float64(pair.Driven) / float64(pair.Driver)
	want := p.Equivalent.Float()
	if math.Abs(want/now-1) < 0.05 {
		return nil, false, nil
	}
	best, second := nearest(want)
	if math.Abs(second/want-1)-math.Abs(best/want-1) < leastOff/2 || math.Abs(best/want-1) > leastOff ||
		sameLabel(best, now) {
		return nil, false, nil
	}
	return orderFor(t, ordered{from: from, to: to, on: on, now: now, want: want, best: best}), true, nil
}

// ordered are the figures of one task.
type ordered struct {
	from, to, on    string
	now, want, best float64
}

// nearest are the two commonly made ratios nearest to a wanted one, of different labels.
func nearest(want float64) (best, second float64) {
	var all []float64
	for _, p := range made.Axle() {
		if p.Weight > made.Seldom {
			all = append(all, float64(p.Driven)/float64(p.Driver))
		}
	}
	slices.SortFunc(all, func(a, b float64) int {
		if math.Abs(a/want-1) < math.Abs(b/want-1) {
			return -1
		}
		return 1
	})
	for _, x := range all[1:] {
		if !sameLabel(x, all[0]) {
			return all[0], x
		}
	}
	return all[0], all[1]
}

func label(v float64) string { return fmt.Sprintf("%.2f", v) }

func sameLabel(a, b float64) bool { return label(a) == label(b) }

// orderFor makes the looks and the list.
func orderFor(t Task, o ordered) *picked {
	four := t.Level >= 2
	p := &picked{seen: map[string]bool{}, because: map[string]Mistake{}, question: "What do you order?",
		text: "The owner has put other tires on and says it drives as if in the wrong gear. He wants it as it " +
			"was when new. Which ring and pinion?",
		warning: "Gears at one end only, on a four-wheel drive, bind it up: a case or a joint breaks. Brakes, " +
			"clearance and lawful speed go with the tires; the maker's manual decides.",
	}
	front := "Only the rear axle is driven."
	if four {
		front = "A transfer case, and a driveshaft to the front axle."
	}
	axle := "Counted, not read off a tag: " + label(o.now) + "."
	decoy := look{"since", "Ask how long it has had them", "Since spring.", 3, false, ""}
	if o.on != "" {
		axle += " As it was when new."
		decoy = look{"shop", "Look up its last visit", "Came in on " + o.on + " then; the gears were not touched.", 3,
			false, ""}
	}
	p.looks = []look{
		{"plate", "Read the plate in the door", "Tires when new: " + o.from + ".", 1, true,
			"Nobody read which tires it had when new."},
		{"tires", "Read the tires that are on it", "On all wheels: " + o.to + ".", 1, true, "Nobody read the tires."},
		{"tag", "Count what is in the axle now", axle, 15, true, "Nobody found out what is in the axle now."},
		{"under", "Look for a second driven axle", front, 2, four, "Nobody looked whether the front is driven."},
		decoy,
	}
	p.list(o, four)
	p.work = []string{fmt.Sprintf("Wanted = %s × %s ÷ %s = %s, by how far each tire rolls; nearest made: %s.",
		label(o.now), o.to, o.from, label(o.want), label(o.best))}
	return p
}

// list makes the orders that can be chosen: the right one, the neighbors, and what comes
// of the usual mistakes.
func (p *picked) list(o ordered, four bool) {
	wrongWay, _ := nearest(o.now * o.now / o.want)
	ratios := map[string]Mistake{label(wrongWay): {"Shorter and taller were confused: larger tires need numerically " +
		"higher gears, smaller ones lower.", "taller"},
		label(o.now): {"The gears were left as they are, and the tires are not.", "taller"}}
	if o.on != "" {
		if x, _ := nearest(o.want / o.now * o.want); !sameLabel(x, o.best) {
			ratios[label(x)] = Mistake{"The gears were reckoned from the wrong pair of tires.", "taller"}
		}
	}
	for _, k := range []float64{0.88, 0.94, 1.06, 1.12} {
		x, _ := nearest(o.want * k)
		if _, ok := ratios[label(x)]; !ok {
			ratios[label(x)] = Mistake{"The ratio is off: new ratio = old ratio × new tire ÷ old tire.", "taller"}
		}
	}
	delete(ratios, label(o.best))
	add := func(l string, m *Mistake) {
		ends := []string{"rear"}
		if four {
			ends = []string{"rear", "both"}
		}
		for _, end := range ends {
			id := l + " " + end
			p.choices = append(p.choices, Choice{id, l + map[string]string{"rear": " in the rear axle",
				"both": " front and rear"}[end]})
			switch {
			case m != nil:
				p.because[id] = *m
			case four && end == "rear":
				p.because[id] = Mistake{"The front was forgotten: front and rear must match.", "wheels"}
			default:
				p.truth = id
			}
		}
	}
	add(label(o.best), nil)
	for l, m := range ratios {
		add(l, &m)
	}
	slices.SortFunc(p.choices, func(a, b Choice) int {
		if a.ID < b.ID {
			return -1
		}
		return 1
	})
}
