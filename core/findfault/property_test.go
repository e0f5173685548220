package findfault

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"zorvel/core/driveline"
	"zorvel/core/driveline/breaks"
)

// drawn is evidence of a unit with some fault in it, as it could have come about.
func drawn(t *testing.T, m *Model, r *rand.Rand, tests int) Question {
	t.Helper()
	k := m.draw(r)
	q := Question{Driveline: m.doc}
	if shows, err := m.complain(&q, k, r, 0.04); err != nil || !shows {
		return Question{Driveline: m.doc}
	}
	for range tests {
		a, err := m.Find(t.Context(), q)
		if err != nil {
			t.Fatal(err)
		}
		if a.Next == nil {
			break
		}
		if err := m.look(&q, a.Next, k, r, 0.04); err != nil {
			t.Fatal(err)
		}
	}
	return q
}

func models(t *testing.T) []*Model {
	t.Helper()
	var out []*Model
	for _, l := range driveline.Layouts() {
		m, err := NewModel(l.Document)
		if err != nil {
			t.Fatalf("%s: %v", l.ID, err)
		}
		out = append(out, m)
	}
	return out
}

// Whatever is seen: chances lie between 0 and 1, a part holds no more than
// certainty and no less than its likeliest fault, what is said of the next test
// adds up, and asking twice gives the same.
func TestAnswersHold(t *testing.T) {
	r := rand.New(rand.NewPCG(21, 15))
	list := models(t)
	for n := range 60 {
		m := list[n%len(list)]
		q := drawn(t, m, r, r.IntN(4))
		a, err := m.Find(t.Context(), q)
		if err != nil {
			t.Fatal(err)
		}
		if a.Sound < 0 || a.Sound > 1 {
			t.Fatalf("sound %v", a.Sound)
		}
		last := 2.0
		for _, x := range a.Suspects {
			if x.Probability < 0 || x.Probability > last || x.Probability > 1.0001 {
				t.Errorf("%s: %v after %v", x.Name, x.Probability, last)
			}
			last = x.Probability
			if p := a.Parts[x.Part]; p < x.Probability-0.001 || p > 1.0001 {
				t.Errorf("%s %v in a part with %v", x.Name, x.Probability, p)
			}
			if x.How == "" || x.Next == "" {
				t.Errorf("%s says not how it comes about, or what dies next", x.Name)
			}
		}
		if x := a.Next; x != nil {
			sum := 0.0
			for _, o := range x.Outcomes {
				sum += o.Probability
			}
			if math.Abs(sum-1) > 0.002 || x.Bits < leastBits || x.Minutes <= 0 {
				t.Errorf("%s: %v of outcomes, %v bits, %v minutes", x.Title, sum, x.Bits, x.Minutes)
			}
			for _, o := range a.Others {
				if !x.Road && !o.Road && o.Bits/o.Minutes > x.Bits/x.Minutes+1e-6 {
					t.Errorf("%s tells more per minute than %s", o.Title, x.Title)
				}
			}
		}
		again, err := m.Find(t.Context(), q)
		if err != nil || again.Sentence != a.Sentence || again.Suspects[0].Probability != a.Suspects[0].Probability {
			t.Errorf("asked twice: %s, then %s", a.Sentence, again.Sentence)
		}
		fresh, err := Find(t.Context(), q)
		if err != nil || fresh.Sentence != a.Sentence {
			t.Errorf("a fresh model: %s, not %s", fresh.Sentence, a.Sentence)
		}
	}
}

// In which order things were seen changes no chance worth a word.
func TestOrderOfEvidence(t *testing.T) {
	r := rand.New(rand.NewPCG(22, 15))
	list := models(t)
	for n := range 60 {
		m := list[n%len(list)]
		q := drawn(t, m, r, 3)
		if len(q.Evidence) < 2 {
			continue
		}
		a, err := m.Find(t.Context(), q)
		if err != nil {
			t.Fatal(err)
		}
		other := q
		other.Evidence = slices.Clone(q.Evidence)
		slices.Reverse(other.Evidence)
		b, err := m.Find(t.Context(), other)
		if err != nil {
			t.Fatal(err)
		}
		for _, x := range a.Suspects {
			if x.Probability < 0.05 {
				break
			}
			if p := chance(b, x.ID); math.Abs(p-x.Probability) > 0.01 {
				t.Errorf("%s: %v, the other way round %v", x.Name, x.Probability, p)
			}
		}
	}
}

// A sort that is met more often leads sooner, and never later.
func TestPriorsLift(t *testing.T) {
	d := layout(t, "part_time")
	q := Question{Driveline: d, Evidence: []Evidence{vehicle(breaks.Stays)}}
	for _, id := range []string{"stub", "shaft", "clutch", "spiders", "mesh"} {
		last := 0.0
		for _, weight := range []float64{0, 1, 5, 25, 125} {
			q.Priors = map[string]float64{id: weight}
			a := find(t, q)
			sum := 0.0
			for _, x := range a.Suspects {
				if x.Sort == id {
					sum += x.Probability
				}
			}
			if sum < last-1e-6 {
				t.Errorf("%s at %v: %v after %v", id, weight, sum, last)
			}
			last = sum
		}
		if last < 0.5 {
			t.Errorf("%s at 125 is %v likely", id, last)
		}
	}
}

// Two things broken at once are found together, where neither explains all.
func TestTwoAtOnce(t *testing.T) {
	d := layout(t, "rear_drive")
	a := find(t, Question{Driveline: d, Evidence: []Evidence{vehicle(breaks.Stays, "gearbox", "2"),
		vehicle(breaks.Follows), vehicle(breaks.Follows, "gearbox", "3"),
		{Seen: []Seen{{breaks.Speedometer, breaks.Stays}}},
		{State: driveline.State{Select: map[string]string{"gearbox": "3"}},
			Seen: []Seen{{breaks.Speedometer, breaks.Stays}}}}})
	if chance(a, "speedometer gearbox") < 0.8 {
		t.Errorf("the speedometer is %v likely: %s", chance(a, "speedometer gearbox"), a.Sentence)
	}
	if a.Parts["gearbox"] < 0.9 || len(a.Pairs) == 0 {
		t.Errorf("%v in the gearbox, pairs %+v", a.Parts["gearbox"], a.Pairs)
	}
}

// What is opened first finds it in the fewest minutes: no other order of the same
// places is quicker on average.
func TestOpeningOrder(t *testing.T) {
	r := rand.New(rand.NewPCG(23, 15))
	expected := func(list []Opening) float64 {
		at, sum := 0.0, 0.0
		for _, o := range list {
			at += o.Minutes
			sum += o.Share * at
		}
		return sum
	}
	list := models(t)
	tried := 0
	for n := range 90 {
		m := list[n%len(list)]
		q := drawn(t, m, r, 8)
		a, err := m.Find(t.Context(), q)
		if err != nil {
			t.Fatal(err)
		}
		if len(a.Open) < 2 {
			continue
		}
		tried++
		best := expected(a.Open)
		for range 20 {
			other := slices.Clone(a.Open)
			r.Shuffle(len(other), func(i, j int) { other[i], other[j] = other[j], other[i] })
			if expected(other) < best-0.01 {
				t.Errorf("another order takes %v minutes, not %v: %+v", expected(other), best, a.Open)
				break
			}
		}
	}
	if tried < 5 {
		t.Errorf("only %d had several places", tried)
	}
}
