package drills

import (
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"reflect"
	"strings"
	"testing"

	"zorvel/core/fault"
	"zorvel/core/identify"
	"zorvel/core/setup"
)

func card(t *testing.T, q Question) *Card {
	t.Helper()
	c, err := Work(q)
	if err != nil {
		t.Fatalf("%+v: %v", q, err)
	}
	return c
}

// answers are all that can be said to a card: every choice, or some numbers.
func answers(c *Card) []Answer {
	var out []Answer
	switch c.Takes {
	case Number:
		for _, v := range []float64{0, 0.25, 12, 41, 2500} {
			out = append(out, Answer{Value: &v})
		}
	case Pick:
		for _, x := range c.Choices {
			out = append(out, Answer{Choice: x.ID})
		}
	case Build:
		for i := range 3 {
			for k := range 3 {
				for m := range 3 {
					out = append(out, Answer{Built: map[string]string{c.Places[0].ID: c.Places[0].Choices[i].ID,
						c.Places[1].ID: c.Places[1].Choices[k].ID, c.Places[2].ID: c.Places[2].Choices[m].ID}})
				}
			}
		}
	}
	return out
}

// Every card of every drill has words, the same ones again for its seed, exactly one right
// answer among its choices, and a sentence for whatever is said.
func TestCards(t *testing.T) {
	for _, d := range List() {
		seeds := uint32(12)
		if d.ID == "fewest" {
			seeds = 4
		}
		for level := 1; level <= MostLevel; level++ {
			if d.Levels[level-1] == "" {
				t.Errorf("%s: level %d has no words", d.ID, level)
			}
			for seed := range seeds {
				q := Question{Drill: d.ID, Level: level, Seed: seed}
				c := card(t, q)
				if !reflect.DeepEqual(c, card(t, q)) {
					t.Fatalf("%s %d/%d differs from itself", d.ID, level, seed)
				}
				right := 0
				for _, a := range answers(c) {
					q.Answer = &a
					m := card(t, q).Marked
					if m.Sentence == "" || m.Truth == "" || m.Points < -100 || m.Points > 100 || m.Right &&
						m.Points < 50 {
						t.Errorf("%s %d/%d, %+v: %+v", d.ID, level, seed, a, m)
					}
					if m.Right {
						right++
					}
				}
				if c.Takes == Pick && right != 1 || c.Takes == Build && right < 1 {
					t.Errorf("%s %d/%d: %d right of %v", d.ID, level, seed, right, c.Choices)
				}
				if c.Ask == "" || len(c.Choices) == 1 {
					t.Errorf("%s %d/%d: %+v", d.ID, level, seed, c)
				}
				if _, err := json.Marshal(c); err != nil {
					t.Errorf("%s: %v", d.ID, err)
				}
			}
		}
	}
}

// Who picks by chance comes to nothing, whatever the number of choices.
func TestGuessingComesToNothing(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for _, d := range []string{"taller", "wheels", "stamp", "speedometer", "pattern", "shafts"} {
		sum, n := 0.0, 300
		for seed := range uint32(n) {
			q := Question{Drill: d, Level: 2, Seed: seed}
			c := card(t, q)
			q.Answer = &Answer{Choice: c.Choices[r.IntN(len(c.Choices))].ID}
			sum += float64(card(t, q).Marked.Points)
		}
		if mean := sum / float64(n); math.Abs(mean) > 12 {
			t.Errorf("%s: guessing earns %.1f", d, mean)
		}
	}
}

// A right answer can't be told from its name.
func TestNamesOfChoicesTellNothing(t *testing.T) {
	for _, d := range []string{"shafts", "fewest"} {
		at := map[string]int{}
		for seed := range uint32(12) {
			q := Question{Drill: d, Level: 1, Seed: seed}
			for _, x := range card(t, q).Choices {
				q.Answer = &Answer{Choice: x.ID}
				if card(t, q).Marked.Right {
					at[x.ID]++
				}
			}
		}
		for id, n := range at {
			if n > 11 {
				t.Errorf("%s: %q is right %d times of 12", d, id, n)
			}
		}
	}
}

func TestPartialTurn(t *testing.T) {
	for _, c := range []struct{ at, said, off float64 }{{0.02, 0.98, -0.04}, {0.98, 0.02, 0.04}, {0.3, 0.35, 0.05},
		{0.3, 4.35, 0.05}} {
		off := func(v float64) float64 {
			_, f := math.Modf(v)
			return math.Remainder(f-c.at, 1)
		}
		m, err := judged(0.05, off, "", func(float64) string { return "" })(Answer{Value: &c.said})
		if err != nil || math.Abs(*m.Off-c.off) > 1e-9 {
			t.Errorf("%+v: %v %v", c, *m.Off, err)
		}
	}
}

func TestDifferentialThatIsBuilt(t *testing.T) {
	for _, c := range []struct {
		left, carrier, right string
		spool                bool
		right1               bool
		says                 string
	}{
		{pieceSpokes, pieceBar, pieceSpokes, false, true, "gains"},
		{pieceSpokes, pieceBar, pieceSpokes, true, false, "no spool"},
		{pieceSpokes, pieceFixed, pieceSpokes, false, false, "binds"},
		{pieceSpokes, pieceFixed, pieceSpokes, true, true, "spool"},
		{pieceClamp, pieceNone, pieceClamp, false, false, "binds"},
		{pieceClamp, pieceBar, pieceClamp, true, true, "spool"},
		{pieceClamp, pieceBar, pieceSpokes, false, false, "Nothing drives the right"},
		{pieceNone, pieceBar, pieceSpokes, false, false, "Nothing drives the left and the right"},
	} {
		m, err := tryBuilt(map[string]string{onLeft: c.left, inCarrier: c.carrier, onRight: c.right}, c.spool)
		if err != nil || m.Right != c.right1 || !strings.Contains(m.Sentence, c.says) {
			t.Errorf("%+v: %v %q %v", c, m.Right, m.Sentence, err)
		}
	}
}

// The pattern that the drill draws asks for the move that the set-up bench names.
func TestPatternsAgreeWithTheBench(t *testing.T) {
	low, high := 0.1, 0.2
	agreed := 0
	for seed := range uint32(40) {
		c := card(t, Question{Drill: "pattern", Level: 1, Seed: seed})
		v, err := setup.Judge(setup.Axle{Ring: 41, Pinion: 10, RingSide: "left", PinionThicker: "in",
			Figures: []setup.Figure{{Figure: setup.FigureBacklash, Low: &low, High: &high, Unit: "mm"}},
			Trials: []setup.Made{{Pinion: "1.20", Left: "1.10", Right: "1.10", Backlash: "0.15 0.15 0.15 0.15",
				Drive: c.Picture.Drive, Coast: c.Picture.Coast}}})
		if err != nil {
			t.Fatal(err)
		}
		want := "leave"
		if v.Next != nil && v.Next.PinionMM > 0.01 {
			want = "in"
		} else if v.Next != nil && v.Next.PinionMM < -0.01 {
			want = "out"
		}
		a := Answer{Choice: want}
		if card(t, Question{Drill: "pattern", Level: 1, Seed: seed, Answer: &a}).Marked.Right {
			agreed++
		} else {
			t.Logf("seed %d: the bench says %s", seed, want)
		}
	}
	if agreed < 39 {
		t.Errorf("%d of 40 agree", agreed)
	}
}

// Every stamp that is drawn reads as the ratio that counts as right, among others.
func TestStampsReadAsTheirRatio(t *testing.T) {
	for level := 1; level <= MostLevel; level++ {
		for seed := range uint32(60) {
			q := Question{Drill: "stamp", Level: level, Seed: seed}
			c := card(t, q)
			marks, err := identify.ParseMark(c.Picture.Text, identify.Stage{Kind: identify.RingAndPinion})
			if err != nil {
				t.Errorf("%q: %v", c.Picture.Text, err)
				continue
			}
			found := false
			for _, m := range marks {
				v := 0.0
				if m.Counts != nil {
					v = float64(m.Counts[0]) / float64(m.Counts[1])
				} else {
					v = float64(m.Value) / math.Pow10(m.Places)
				}
				q.Answer = &Answer{Choice: fmt.Sprintf("%.2f", v)}
				for _, x := range c.Choices {
					found = found || x.ID == q.Answer.Choice && card(t, q).Marked.Right
				}
			}
			if !found {
				t.Errorf("%q doesn't read as the right answer: %+v", c.Picture.Text, marks)
			}
		}
	}
}

func TestRefusals(t *testing.T) {
	v, inf := 1.0, math.Inf(1)
	for field, q := range map[string]Question{
		"drill":             {Drill: "juggling", Level: 1},
		"level":             {Drill: "stamp", Level: 4},
		"answer/value":      {Drill: "remainder", Level: 1, Answer: &Answer{Choice: "x"}},
		"answer/choice":     {Drill: "taller", Level: 1, Answer: &Answer{Value: &v}},
		"answer/built/left": {Drill: "differential", Level: 1, Answer: &Answer{}},
	} {
		_, err := Work(q)
		if list := fault.List(err); len(list) == 0 || list[0].Field != field {
			t.Errorf("%+v: %v, want %s", q, err, field)
		}
	}
	if _, err := Work(Question{Drill: "rpm", Level: 1, Answer: &Answer{Value: &inf}}); err == nil {
		t.Error("an endless answer was marked")
	}
}

func Example() {
	said := 0.4
	c, err := Work(Question{Drill: "remainder", Level: 1, Seed: 7, Answer: &Answer{Value: &said}})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(c.Ask)
	fmt.Println(c.Marked.Right, c.Marked.Points, c.Marked.Sentence)
	// Output:
	// How far past the top is the mark?
	// false 24 It is 0.50 of a turn past the top, 180°. You read 10 hundredths too little.
}
