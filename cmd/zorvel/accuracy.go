package main

import (
	"fmt"
	"io"
	"strings"
	"time"

	"github.com/schollz/progressbar/v3"
	"github.com/spf13/cobra"

	"zorvel/core/experience"
	"zorvel/core/identify"
	"zorvel/core/live/sessions"
	"zorvel/core/setup"
	"zorvel/core/trials"
)

// accuracyCommand simulates technicians and prints how often the verdict was
// right when it said so.
func accuracyCommand() *cobra.Command {
	var people, live, photos, sounds int
	var seed uint64
	c := &cobra.Command{
		Use:   "accuracy",
		Short: "Simulate technicians: is a verdict called 99 % sure right 99 % of the time?",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if people < 1 || people > 1_000_000 {
				return fmt.Errorf("%d technicians: choose 1 to 1,000,000", people)
			}
			if live != 0 {
				return liveAccuracy(c.OutOrStdout(), c.ErrOrStderr(), live, seed)
			}
			if photos != 0 {
				return photoAccuracy(c.OutOrStdout(), c.ErrOrStderr(), photos, seed)
			}
			if sounds != 0 {
				return soundAccuracy(c.OutOrStdout(), c.ErrOrStderr(), sounds, seed)
			}
			return accuracy(c.OutOrStdout(), c.ErrOrStderr(), people, seed)
		},
	}
	c.Flags().IntVar(&people, "technicians", 20000, "how many to simulate in each trial")
	c.Flags().IntVar(&live, "live", 0, "instead, how many live counts to simulate in all, over every kind of source and fault")
	c.Flags().IntVar(&photos, "photos", 0, "instead, how many pictures of gears to draw and count, over every difficulty")
	c.Flags().IntVar(&sounds, "sounds", 0, "instead, how many recorded drives to make and listen to")
	c.Flags().Uint64Var(&seed, "seed", 1, "the same seed gives the same result")
	return c
}

// liveAccuracy simulates live counts of every kind: do their ranges hold, and how many
// turns does it take beside counting by eye?
func liveAccuracy(w, status io.Writer, count int, seed uint64) error {
	if count < 1 || count > 1_000_000 {
		return fmt.Errorf("%d live counts: choose 1 to 1,000,000", count)
	}
	sp, err := identify.NewSpace(identify.Stage{Kind: identify.RingAndPinion})
	if err != nil {
		return err
	}
	kinds := sessions.Kinds()
	each := (count + len(kinds) - 1) / len(kinds)
	bar := counter(status, each*len(kinds), "live counts")
	fmt.Fprintf(w, "%-46s %7s %7s %8s %6s %6s   by hand: %8s %6s %6s\n", "source", "counts", "holds", "settled",
		"turns", "wrong", "settled", "turns", "wrong")
	for i, k := range kinds {
		o, err := sessions.Run(k, sp, each, seed, func(done int) { _ = bar.Set(i*each + done) })
		if err != nil {
			return err
		}
		fmt.Fprintf(w, "%-46s %7d %5.2f %% %6.1f %% %6.1f %4.2f %%            %6.1f %% %6.1f %4.2f %%\n", o.Kind,
			o.Sessions, percent(o.Held, max(1, o.Told)),
			percent(o.Settled, o.Sessions), o.Turns/float64(max(1, o.Settled)), percent(o.Wrong, max(1, o.Settled)),
			percent(o.HandSettled, o.Sessions), o.HandTurns/float64(max(1, o.HandSettled)), percent(o.HandWrong,
				max(1, o.HandSettled)))
	}
	return nil
}

// counter shows how far a simulation is, and the time left.
func counter(status io.Writer, of int, what string) *progressbar.ProgressBar {
	return progressbar.NewOptions(of, progressbar.OptionSetWriter(status), progressbar.OptionSetDescription(what),
		progressbar.OptionShowCount(), progressbar.OptionSetPredictTime(true), progressbar.OptionThrottle(time.Second/2),
		progressbar.OptionOnCompletion(func() { fmt.Fprintln(status) }))
}

// accuracy runs the trials one after another, each on all processors; status
// shows how far it is and the time left.
func accuracy(w, status io.Writer, people int, seed uint64) error {
	sp, err := identify.NewSpace(identify.Stage{Kind: identify.RingAndPinion})
	if err != nil {
		return err
	}
	trials := []identify.Trial{
		{Technicians: people, Scale: 1, Seed: seed},
		{Technicians: people, Scale: 1.5, Seed: seed},
		{Technicians: people, Scale: 1, Seed: seed, FixedOrder: true},
		{Technicians: people, Scale: 1.5, Seed: seed, FixedOrder: true},
	}
	bar := counter(status, people*len(trials), "technicians")
	outs := make([]identify.Outcome, len(trials))
	for i, t := range trials {
		out, err := t.Run(sp, func(done int) { _ = bar.Set(i*people + done) })
		if err != nil {
			return err
		}
		outs[i] = out
	}
	var b strings.Builder
	for i, t := range trials {
		o := outs[i]
		order := "recommended next measurement"
		if t.FixedOrder {
			order = "fixed order: tag, one turn by eye, teeth"
		}
		fmt.Fprintf(&b, "\n%s, errors × %g, %d technicians\n", order, t.Scale, o.Technicians)
		fmt.Fprintf(&b, "  mean minutes %.1f   settled %.2f %%   settled but wrong %.2f %%   final label wrong %.2f %%\n",
			o.Minutes, percent(o.Settled, o.Technicians), percent(o.WrongSettled, max(o.Settled, 1)), percent(o.Wrong, o.Technicians))
		fmt.Fprintf(&b, "  called sure          verdicts    claimed      right\n")
		for _, band := range o.Bands {
			if band.Given > 0 {
				fmt.Fprintf(&b, "  %5.1f to %5.1f %%   %9d   %6.2f %%   %6.2f %%\n", 100*band.From, 100*band.To, band.Given, 100*band.Claimed/float64(band.Given), percent(band.Right, band.Given))
			}
		}
	}
	if err := firstReadings(&b, sp, max(100, people/5), seed); err != nil {
		return err
	}
	if err := cooperatives(&b, sp, max(80, people/5), seed); err != nil {
		return err
	}
	if err := setUps(&b, max(100, people/10), seed); err != nil {
		return err
	}
	if err := faults(&b, max(10, people/2), seed); err != nil {
		return err
	}
	_, err = io.WriteString(w, b.String())
	return err
}

// firstReadings weighs single readings, and whole countings, of axles that come from
// other mixtures than the one reckoned with.
func firstReadings(w io.Writer, sp *identify.Space, people int, seed uint64) error {
	var list identify.List
	for _, z := range [][2]int{{41, 10}, {37, 9}, {41, 9}, {39, 8}, {41, 11}, {39, 11}, {43, 10}, {47, 9}} {
		list.Sets = append(list.Sets, identify.CatalogEntry{Construction: "pair", Teeth: []int{z[0], z[1]}})
	}
	fresh, err := sp.WithList(list)
	if err != nil {
		return err
	}
	list.Counted, list.Found = 20, 17
	proved, err := sp.WithList(list)
	if err != nil {
		return err
	}
	worlds := []struct {
		name             string
		reckoned, truths *identify.Space
	}{
		{"empty shop, axles as reckoned", sp, sp},
		{"empty shop, only common axles", sp, sp.In(identify.OnlyCommon)},
		{"empty shop, any axle alike", sp, sp.In(identify.OnlyOther)},
		{"new list, any axle alike", fresh, sp.In(identify.OnlyOther)},
		{"proved list, axles as reckoned", proved, proved},
		{"proved list, common axles", proved, sp.In(identify.OnlyCommon)},
	}
	fmt.Fprintf(w, "\nsingle readings and whole countings in other worlds, %d each\n", people)
	for _, x := range worlds {
		for _, first := range []identify.FirstReading{identify.FirstByEye, identify.FirstInWords, identify.FirstByArc, identify.FirstTeeth, identify.FirstTag, ""} {
			n, name := people, string(first)
			if first == "" {
				n, name = max(50, people/5), "counted on"
			}
			o, err := identify.Trial{Technicians: n, Scale: 1, Seed: seed, First: first, Truths: x.truths}.Run(x.reckoned, nil)
			if err != nil {
				return err
			}
			sure := trials.Band{}
			for _, b := range o.Bands {
				if b.From >= identify.SureEnough {
					sure.Given, sure.Right = sure.Given+b.Given, sure.Right+b.Right
				}
			}
			fmt.Fprintf(w, "  %-32s %-10s called 95 %% or more: %5d, right %s   labels said first: %5d, right %s   ranges: %5d, hold the truth %s\n", x.name, name,
				sure.Given, share(sure), o.Headlines.Given, share(o.Headlines), o.Ranges.Given, share(o.Ranges))
		}
	}
	return nil
}

// cooperatives gives forty shops each other's experience, and few, and the wrong one.
func cooperatives(w io.Writer, sp *identify.Space, people int, seed uint64) error {
	alike := experience.Cooperative{Shops: 40, Housings: 30, Technicians: people, Seed: seed, Apart: 0.7, Strange: 0.1}
	elsewhere, few, apart := alike, alike, alike
	elsewhere.Elsewhere = true
	few.Shops, few.Housings = 3, 10
	apart.Apart, apart.Strange = 1.5, 0.4
	fmt.Fprintf(w, "\nother shops' experience in a shop that has counted nothing yet, %d technicians\n", people)
	for _, x := range []struct {
		name string
		experience.Cooperative
	}{{"forty shops alike", alike}, {"forty shops apart", apart}, {"three shops", few}, {"forty shops of other work",
		elsewhere}} {
		o, err := x.Run(sp)
		if err != nil {
			return err
		}
		for _, y := range []struct {
			name string
			identify.Outcome
		}{{"alone", o.Alone}, {"with it", o.With}} {
			sure := trials.Band{}
			for _, b := range y.Bands {
				if b.From >= identify.SureEnough {
					sure.Add(b)
				}
			}
			fmt.Fprintf(w, "  %-26s %-8s minutes %5.1f   settled %5.1f %%   settled but wrong %.2f %%   "+
				"called 95 %% or more: %6d, claimed %.2f %%, right %s\n", x.name, y.name,
				y.Minutes, percent(y.Settled, y.Technicians), percent(y.WrongSettled, max(y.Settled,
					1)), sure.Given, 100*sure.Claimed/float64(max(sure.Given, 1)), share(sure))
		}
	}
	return nil
}

func share(b trials.Band) string {
	if b.Given == 0 {
		return "–"
	}
	return fmt.Sprintf("%.1f %%", percent(b.Right, b.Given))
}

// setUps sets simulated axles up by the verdicts and by the rule of thumb.
func setUps(w io.Writer, count int, seed uint64) error {
	for _, mistypes := range []float64{0, 0.05} {
		s, err := setup.Run(count, seed, mistypes)
		if err != nil {
			return err
		}
		fmt.Fprintf(w, "\nset-up of a ring and pinion, %g %% of trials mistyped, %d housings\n", 100*mistypes, s.Count)
		fmt.Fprintf(w, "  trials until good: mean %.2f, by the rule of thumb %.2f   more than by the rule of thumb in %.1f %%\n", s.Trials, s.Thumb, percent(s.Worse, s.Count))
		fmt.Fprintf(w, "  good after")
		for n, c := range s.ByTrials {
			if c > 0 {
				fmt.Fprintf(w, "   %d: %.1f %%", n, percent(c, s.Count))
			}
		}
		fmt.Fprintf(w, "\n  not reached %d (rule of thumb %d)   called good and was not %d   moves that changed the preload %d\n", s.Over, s.ThumbOver, s.Wrong, s.Spoiled)
		if s.Foretold > 0 {
			fmt.Fprintf(w, "  backlash within the two standard deviations foretold: %.1f %%\n", 100*s.Foretold)
		}
	}
	return nil
}

func percent(n, of int) float64 { return 100 * float64(n) / float64(of) }
