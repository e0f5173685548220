package findfault

import (
	"math"
	"reflect"
	"slices"
	"strings"
	"testing"

	"zorvel/core/driveline"
)

// hide hides a broken part in a ready driveline.
func hide(t *testing.T, layout string, seed uint64, wrong float64) *Hidden {
	t.Helper()
	for _, l := range driveline.Layouts() {
		if l.ID != layout {
			continue
		}
		m, err := NewModel(l.Document)
		if err != nil {
			t.Fatal(err)
		}
		h, err := m.Hide(seed, wrong, func(Fault) bool { return true })
		if err != nil {
			t.Fatal(err)
		}
		return h
	}
	t.Fatalf("no layout %s", layout)
	return nil
}

// In every layout a broken part can be hidden: it is brought in with something, there are
// tests with words and minutes, and the part that is hidden is one of those that can be
// named.
func TestEveryLayoutHides(t *testing.T) {
	for _, l := range driveline.Layouts() {
		for seed := range uint64(4) {
			h := hide(t, l.ID, seed, 0)
			if len(h.Brought()) == 0 || strings.Join(h.Brought(), "") == "" {
				t.Errorf("%s/%d: brought in with nothing", l.ID, seed)
			}
			if !slices.ContainsFunc(h.Faults(), func(n Named) bool { return n.ID == h.Truth().ID && n.Name != "" }) {
				t.Errorf("%s/%d: %s can't be named", l.ID, seed, h.Truth().ID)
			}
			list := h.Tests(false)
			if len(list) < 4 {
				t.Errorf("%s/%d: %d tests", l.ID, seed, len(list))
			}
			for i, x := range list {
				e, err := h.Show(i)
				if err != nil || x.Title == "" || x.Minutes <= 0 || h.Words(e) == "" {
					t.Errorf("%s/%d, test %d: %+v %q %v", l.ID, seed, i, x, h.Words(e), err)
				}
			}
		}
	}
}

// A unit is the same for the same seed; a test that is seen wrong now and then shows the
// same each time it is made.
func TestHiddenIsRepeatable(t *testing.T) {
	a, b := hide(t, "part_time", 9, 0.3), hide(t, "part_time", 9, 0.3)
	if a.Truth().ID != b.Truth().ID || !slices.Equal(a.Brought(), b.Brought()) {
		t.Error("one seed, two units")
	}
	differs := 0
	for i := range a.Tests(false) {
		x, err := a.Show(i)
		if err != nil {
			t.Fatal(err)
		}
		y, err := b.Show(i)
		if err != nil || !reflect.DeepEqual(x, y) {
			t.Errorf("test %d shows %+v and %+v, %v", i, x, y, err)
		}
		rightly, err := a.Rightly(i)
		if err != nil {
			t.Fatal(err)
		}
		if !reflect.DeepEqual(x, rightly) {
			differs++
		}
	}
	if n := len(a.Tests(false)); differs == 0 || differs > n*3/4 {
		t.Errorf("seen wrong %d times of %d", differs, n)
	}
}

// Of what is hidden some fits and some doesn't.
func TestHiddenFits(t *testing.T) {
	h := hide(t, "rear_drive", 1, 0)
	m := h.m
	for seed := range uint64(10) {
		s, err := m.Hide(seed, 0, func(f Fault) bool { return f.Structural() })
		if err != nil || !s.Truth().Structural() {
			t.Errorf("%d: %+v %v", seed, s, err)
		}
	}
	if _, err := m.Hide(1, 0, func(Fault) bool { return false }); err == nil {
		t.Error("nothing fits, and something was hidden")
	}
}

// A broken axle shaft on one side shows as one on the other: they are alike, and the hidden
// one is always among its like.
func TestAlike(t *testing.T) {
	h := hide(t, "rear_drive", 1, 0)
	for k, f := range h.m.faults {
		h.k = k
		alike, err := h.Alike()
		if err != nil || !slices.Contains(alike, f.ID) {
			t.Fatalf("%s: %v %v", f.ID, alike, err)
		}
		if f.Sort == "stub" && len(alike) != 2 {
			t.Errorf("%s is alike to %v", f.ID, alike)
		}
		if f.Sort == "clutch" && len(alike) != 1 {
			t.Errorf("%s is alike to %v", f.ID, alike)
		}
	}
}

// Lifted once, tests by hand take less; the tests that come next end, and what they find is
// the hidden part or its like, most of the time.
func TestNextEnds(t *testing.T) {
	found := 0
	for seed := range uint64(12) {
		h := hide(t, "rear_drive", seed, 0)
		down, up := h.Tests(false), h.Tests(true)
		for i := range down {
			if lifts := down[i].Lifts; up[i].Minutes > down[i].Minutes || lifts != (up[i].Minutes < down[i].Minutes) {
				t.Errorf("test %d takes %v, and %v on stands", i, down[i].Minutes, up[i].Minutes)
			}
		}
		var seen []Evidence
		stands := false
		for n := 0; ; n++ {
			i, more, err := h.Next(seen, stands)
			if err != nil {
				t.Fatal(err)
			}
			if !more {
				break
			}
			if n > 20 {
				t.Fatalf("%d: it never ends", seed)
			}
			e, err := h.Rightly(i)
			if err != nil {
				t.Fatal(err)
			}
			seen, stands = append(seen, e), stands || down[i].Lifts
		}
		by, top, err := h.Weigh(seen)
		if err != nil {
			t.Fatal(err)
		}
		total := 0.0
		for _, p := range by {
			total += p
		}
		if total < 0.5 || total > 2.01 || math.IsNaN(total) {
			t.Errorf("%d: chances come to %v", seed, total)
		}
		alike, err := h.Alike()
		if err != nil {
			t.Fatal(err)
		}
		if slices.Contains(alike, top.ID) {
			found++
		}
	}
	if found < 8 {
		t.Errorf("%d of 12 found", found)
	}
}

// The best tests after the complaint are as many as asked for, and each can be made.
func TestBest(t *testing.T) {
	for seed := range uint64(6) {
		h := hide(t, "rear_drive", seed, 0)
		best, err := h.Best(3)
		if err != nil {
			t.Fatal(err)
		}
		if len(best) > 3 {
			t.Errorf("%d tests", len(best))
		}
		for _, b := range best {
			if !slices.ContainsFunc(h.Tests(false), func(x Looked) bool { return x.Title == b.Title }) {
				t.Errorf("%q can't be made", b.Title)
			}
		}
	}
}
