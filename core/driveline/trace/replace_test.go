package trace

import (
	"encoding/json"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"zorvel/core/driveline"
	"zorvel/core/driveline/linetest"
	"zorvel/core/exact"
)

func text(t *testing.T, v any) string {
	t.Helper()
	b, err := json.Marshal(v)
	if err != nil {
		t.Fatal(err)
	}
	return string(b)
}

// Other gears and tires make the ratio and the road's way just as much other,
// gear by gear; the document that was asked stays as it was.
func TestWithScalesEveryGear(t *testing.T) {
	r := rand.New(rand.NewPCG(2, 8))
	for id, d := range linetest.Vehicles(t) {
		before := text(t, d)
		old, err := GearTable(d)
		if err != nil {
			t.Fatalf("%s: %v", id, err)
		}
		axles := d.Axles()
		for range 5 {
			z := [2]int{33 + r.IntN(17), 7 + r.IntN(7)}
			grow := exact.New(int64(80+r.IntN(50)), 100)
			pairs, rolling := map[string][2]int{}, map[string]exact.Number{}
			// Both ends by the same part, so that they go on agreeing.
			by := exact.New(int64(z[0]), int64(z[1])).Div(axles[0].Ratio)
			for _, a := range axles {
				rolling[a.At] = a.RollingMM.Mul(grow)
				if a.Ratio.Equal(axles[0].Ratio) {
					pairs[a.At] = z
				}
			}
			if len(pairs) != len(rolling) {
				continue // ends that differ can't both be the same set
			}
			c := d.With(pairs, rolling)
			now, err := GearTable(c)
			if err != nil {
				t.Fatalf("%s: %v", id, err)
			}
			if len(now) != len(old) {
				t.Fatalf("%s: %d gears and then %d", id, len(old), len(now))
			}
			for i := range old {
				if old[i].Overall == nil {
					continue
				}
				if want := old[i].Overall.Mul(by); now[i].Overall == nil || !now[i].Overall.Equal(want) {
					t.Errorf("%s, %s: %v, want %v", id, old[i].Name, now[i].Overall, want)
				}
				if old[i].KMH != nil {
					if want := *old[i].KMH * grow.Float() / by.Float(); math.Abs(*now[i].KMH-want) > 1e-9*want {
						t.Errorf("%s, %s: %v km/h, want %v", id, old[i].Name, *now[i].KMH, want)
					}
				}
			}
			for _, a := range c.Axles() {
				if a.Pair != z || !a.Known || !a.RollingMM.Equal(rolling[a.At]) {
					t.Errorf("%s: %+v", id, a)
				}
			}
		}
		if text(t, d) != before {
			t.Errorf("%s was changed by asking", id)
		}
	}
}

// How often the road turns each take-off, against a trace of the same
// driveline driven by its engine.
func TestTakeOffsAgainstTheTrace(t *testing.T) {
	for id, d := range linetest.Vehicles(t) {
		list, err := d.TakeOffs(exact.Number{})
		if err != nil {
			t.Errorf("%s: %v", id, err)
			continue
		}
		if d.Axles()[0].RollingMM.IsZero() {
			continue // an axle on the bench has no road
		}
		if len(list) == 0 {
			t.Errorf("%s has no take-off", id)
			continue
		}
		s := driveline.State{Input: &driveline.Input{RPM: 1500}, Select: map[string]string{}}
		for _, p := range d.Parts {
			if p.Kind == "gearbox" {
				s.Select[p.ID] = p.Gearbox.Gears[len(p.Gearbox.Gears)-2].Name
			}
		}
		tr, err := Run(d, s, Want{})
		if err != nil || tr.SpeedKMH == nil {
			t.Errorf("%s: %v, %v", id, err, tr)
			continue
		}
		meters := math.Abs(*tr.SpeedKMH) * 1000 / 60 // a minute
		rpm := map[string]float64{}
		for _, x := range tr.Shafts {
			if x.RPM != nil {
				rpm[x.ID] = math.Abs(*x.RPM)
			}
		}
		for _, x := range list {
			v, ok := rpm[x.Shaft]
			if !ok {
				t.Errorf("%s: the trace has no shaft %s", id, x.Shaft)
				continue
			}
			if want := v / meters; math.Abs(math.Abs(x.PerMeter.Float())-want) > 1e-6*want {
				t.Errorf("%s: %s turns %v times a meter, by the trace %v", id, x.Name, x.PerMeter.Float(), want)
			}
			if x.Low != nil && x.Low.Cmp(x.PerMeter) <= 0 {
				t.Errorf("%s: %s turns %v in high and %v in low", id, x.Name, x.PerMeter, *x.Low)
			}
		}
		// Twice the tire, half the turns.
		rolling := d.Axles()[0].RollingMM
		if rolling.Sign() > 0 {
			twice, err := d.TakeOffs(rolling.Mul(exact.Int(2)))
			if err != nil || len(twice) != len(list) {
				t.Errorf("%s: %v, %d take-offs", id, err, len(twice))
				continue
			}
			same := true
			for _, a := range d.Axles() {
				same = same && a.RollingMM.Equal(rolling)
			}
			for i := range list {
				if same && !twice[i].PerMeter.Mul(exact.Int(2)).Equal(list[i].PerMeter) {
					t.Errorf("%s: %s turns %v and then %v", id, list[i].Name, list[i].PerMeter, twice[i].PerMeter)
				}
			}
		}
	}
}

// The way to the rear alone keeps everything but what the front is fed by.
func TestRearKeepsTheRear(t *testing.T) {
	d := linetest.Layout(t, "part_time")
	c := d.Rear()
	for _, p := range c.Parts {
		if strings.HasPrefix(p.ID, "front") {
			t.Errorf("%s is still there", p.ID)
		}
	}
	a, err := GearTable(d)
	if err != nil {
		t.Fatal(err)
	}
	b, err := GearTable(c)
	if err != nil {
		t.Fatal(err)
	}
	for i := range a {
		if !a[i].Overall.Equal(*b[i].Overall) {
			t.Errorf("%s %s: %v and %v", a[i].Name, a[i].Range, a[i].Overall, b[i].Overall)
		}
	}
	if len(d.Axles()) != 2 || len(c.Axles()) != 1 || c.Axles()[0].At != "rear" {
		t.Errorf("%+v, %+v", d.Axles(), c.Axles())
	}
}

// A family stands in the document, is trimmed, bounded, and handed on.
func TestFamilyOfAPart(t *testing.T) {
	d := linetest.Layout(t, "part_time").With(nil, nil)
	for id, name := range map[string]string{"rear": "  Varn 220 ", "front": "Varn 220", "case": "Holt T2"} {
		linetest.Part(t, d, id).Family = name
	}
	back, err := driveline.Parse([]byte(text(t, d)))
	if err != nil {
		t.Fatal(err)
	}
	for _, a := range back.Axles() {
		if a.Family != "Varn 220" {
			t.Errorf("%s is of %q", a.ID, a.Family)
		}
	}
	list, err := back.TakeOffs(exact.Number{})
	if err != nil {
		t.Fatal(err)
	}
	of := map[string]string{}
	for _, x := range list {
		of[x.Part] = x.Family
	}
	if of["case"] != "Holt T2" || of["gearbox"] != "" || of["rear"] != "Varn 220" {
		t.Errorf("%v", of)
	}
	// With leaves it, and so does taking the front away.
	c := back.With(map[string][2]int{"rear": {43, 9}}, nil)
	if got := c.Axles()[0]; got.Family != "Varn 220" || got.Pair != [2]int{43, 9} {
		t.Errorf("%+v", got)
	}
	if got := c.Rear().Axles(); len(got) != 1 || got[0].Family != "Varn 220" {
		t.Errorf("%+v", got)
	}
	for n, ok := range map[int]bool{60: true, 61: false} {
		linetest.Part(t, d, "rear").Family = strings.Repeat("é", n)
		_, err := driveline.Parse([]byte(text(t, d)))
		if (err == nil) != ok || !ok && !strings.Contains(err.Error(), "/family: at most 60") {
			t.Errorf("%d characters: %v", n, err)
		}
	}
}
