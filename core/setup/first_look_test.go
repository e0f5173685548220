package setup

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"
)

// Without any shim named the move is the same, told without stacks, whichever side the
// ring gear sits on and in both units.
func TestFirstLook(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 26))
	moved := 0
	for range 400 {
		lash := 0.05 + 0.4*rng.Float64()
		m := Made{Backlash: fmt.Sprintf("%.3f %.3f %.3f", lash, lash+0.01, lash)}
		if rng.IntN(3) > 0 {
			m.Drive, m.Coast = at(rng.Float64()*1.6-0.8, rng.Float64()*1.6-0.8)
		}
		q := axle(m)
		q.Unit = []string{"mm", "in"}[rng.IntN(2)]
		if q.Unit == "in" {
			q.Trials[0].Backlash = fmt.Sprintf("%.4f %.4f %.4f", lash/25.4, lash/25.4, lash/25.4)
		}
		full := q
		full.Trials = []Made{q.Trials[0]}
		full.Trials[0].Pinion, full.Trials[0].Left, full.Trials[0].Right = "9mm", "9mm", "9mm"
		q.RingSide, q.PinionThicker = []string{"", "left"}[rng.IntN(2)], []string{"", "in"}[rng.IntN(2)]
		bare, with := judge(t, q), judge(t, full)
		if bare.State != with.State || !bare.FirstLook || with.FirstLook {
			t.Fatalf("%+v: %s %q, with shims %s %q", m, bare.State, bare.Sentence, with.State, with.Sentence)
		}
		if bare.Next == nil {
			continue
		}
		if bare.Next.PinionMM != with.Next.PinionMM || bare.Next.RingMM != with.Next.RingMM || bare.Next.Head != with.Next.Head {
			t.Fatalf("%+v: %+v, with shims %+v", m, bare.Next, with.Next)
		}
		if len(bare.Next.Changes) > 0 || strings.Contains(bare.Sentence, "→") {
			t.Fatalf("a stack that nobody named: %s", bare.Sentence)
		}
		moved++
	}
	if moved < 200 {
		t.Fatalf("only %d moves", moved)
	}
}

// One stack named is not three: what is missing is asked for.
func TestNoHalfStacks(t *testing.T) {
	q := axle(Made{Left: "1.00", Backlash: "0.4 0.4 0.4"})
	_, err := Judge(q)
	if err == nil || !strings.Contains(err.Error(), "shims installed") {
		t.Fatalf("%v", err)
	}
}

// The ring gear on the left, 0.23 mm toward the pinion: more shim on its own side.
func TestFirstLookWords(t *testing.T) {
	m := Made{Backlash: "0.40 0.40 0.40 0.40"}
	m.Drive, m.Coast = at(0.1, 0)
	q := axle(m)
	for side, want := range map[string]string{
		"left":  "Put 0.23 mm more shim on the left and 0.23 mm less on the right",
		"right": "Put 0.23 mm more shim on the right and 0.23 mm less on the left",
		"":      "Put 0.23 mm more shim on the ring gear's side and 0.23 mm less on the other",
	} {
		q.RingSide = side
		if v := judge(t, q); !strings.Contains(v.Sentence, want) {
			t.Errorf("ring on the %q: %s", side, v.Sentence)
		}
	}
}
