package sessions

import (
	"math"
	"testing"

	"zorvel/core/identify"
)

// Of every kind of source and fault: ranges hold, and what is called settled is seldom
// another ratio.
func TestSessions(t *testing.T) {
	sp, err := identify.NewSpace(identify.Stage{Kind: identify.RingAndPinion})
	if err != nil {
		t.Fatal(err)
	}
	all := Outcome{}
	for _, k := range Kinds() {
		o, err := Run(k, sp, 60, 5, nil)
		if err != nil {
			t.Fatal(err)
		}
		all.add(o)
		t.Logf(
			"%-45s held %d of %d, settled %d of %d in %.1f turns, wrong %d; by hand %d in %.1f, wrong %d",
			k.Name, o.Held, o.Told, o.Settled, o.Sessions, o.Turns/float64(max(1,
				o.Settled)), o.Wrong, o.HandSettled, o.HandTurns/float64(max(1, o.HandSettled)), o.HandWrong)
	}
	// Three standard errors are chance.
	if share := float64(all.Held) / float64(all.Told); share < 0.95-3*math.Sqrt(0.95*0.05/float64(all.Told)) {
		t.Errorf("ranges hold in %.3f", share)
	}
	if most := 0.01 + 3*math.Sqrt(0.01/float64(all.Settled)); float64(all.Wrong)/float64(all.Settled) > most {
		t.Errorf("%d of %d settled at another ratio", all.Wrong, all.Settled)
	}
	if all.Settled < 2*all.HandSettled {
		t.Errorf("live %d of %d settled, by hand %d", all.Settled, all.Sessions, all.HandSettled)
	}
}
