package main

import (
	"fmt"
	"io"
	"math/rand/v2"
	"sync"

	"zorvel/core/driveline"
	"zorvel/core/findfault"
)

// mostOwnTests is where a simulated technician stops looking from outside.
const mostOwnTests = 30

// faults breaks simulated units over all layouts and looks for the fault in
// three ways: by the proposed tests, by a checklist, and by opening what breaks
// most often.
func faults(w io.Writer, count int, seed uint64) error {
	of := [3]findfault.Tally{}
	errs := [3]error{}
	var wg sync.WaitGroup
	for order := range of {
		wg.Go(func() { of[order], errs[order] = broken(count, seed, findfault.Order(order)) })
	}
	wg.Wait()
	for _, err := range errs {
		if err != nil {
			return err
		}
	}
	y := of[findfault.Proposed]
	shown := max(1, y.Shown)
	fmt.Fprintf(w, "\nbroken units over all layouts, 4 %% of what is seen wrong: %d, of which %d have something to complain of\n", count, y.Shown)
	fmt.Fprintf(w, "  proposed tests: right, or the group that nothing outside tells apart %.1f %%   first %.1f %%   part first %.1f %%, so after at most five tests %.1f %%   among three %.1f %%\n",
		percent(y.Right, shown), percent(y.First, shown), percent(y.Part, shown), percent(y.Part5, shown), percent(y.InThree, shown))
	fmt.Fprintf(w, "    settled %.1f %%, said %.1f %% sure, right %.1f %%\n", percent(y.Settled, shown), 100*y.Sure/float64(max(1, y.Settled)), percent(y.Settled-y.Wrong, max(1, y.Settled)))
	for i, name := range []string{"proposed tests", "checklist", "opening by what breaks most"} {
		x := of[i]
		fmt.Fprintf(w, "  %-28s tests %4.1f   minutes of tests %5.1f   minutes of opening until found %5.1f   part first after at most five tests %.1f %%\n", name, x.Mean(float64(x.Tests)), x.Mean(x.Minutes), x.Mean(x.Opened), percent(x.Part5, max(1, x.Shown)))
	}
	fmt.Fprintf(w, "  called sure          verdicts    claimed      right\n")
	for _, b := range y.Bands {
		if b.Given > 0 {
			fmt.Fprintf(w, "  %5.1f to %5.1f %%   %9d   %6.2f %%   %6.2f %%\n", 100*b.From, 100*b.To, b.Given,
				100*b.Claimed/float64(b.Given), percent(b.Right, b.Given))
		}
	}
	return nil
}

// broken simulates units by one order of tests.
func broken(count int, seed uint64, order findfault.Order) (findfault.Tally, error) {
	var y findfault.Tally
	r := rand.New(rand.NewPCG(seed, 0xfa17))
	var models []*findfault.Model
	for _, l := range driveline.Layouts() {
		m, err := findfault.NewModel(l.Document)
		if err != nil {
			return y, err
		}
		models = append(models, m)
	}
	for range count {
		t, err := models[r.IntN(len(models))].Simulate(r, 0.04, mostOwnTests, order)
		if err != nil {
			return y, err
		}
		y.Add(t)
	}
	return y, nil
}
