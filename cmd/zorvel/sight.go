package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"

	"github.com/spf13/cobra"

	"zorvel/core/sight"
	"zorvel/core/sight/drawn"
	"zorvel/internal/photo"
)

func sightCommand() *cobra.Command {
	var tap []float64
	c := &cobra.Command{
		Use:   "sight PHOTO...",
		Short: "Count the teeth of the gear on photos (JPEG, PNG or WebP), as the bench does",
		Args:  cobra.MinimumNArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			if len(tap) != 0 && len(tap) != 2 {
				return errors.New("--tap is x,y in points of the photo")
			}
			e := json.NewEncoder(c.OutOrStdout())
			e.SetIndent("", " ")
			for _, file := range args {
				a, err := countOn(file, tap)
				if err != nil {
					return fmt.Errorf("%s: %w", file, err)
				}
				out := struct {
					File string `json:"file"`
					*sight.Answer
				}{file, a}
				if err := e.Encode(out); err != nil {
					return err
				}
			}
			return nil
		},
	}
	c.Flags().Float64SliceVar(&tap, "tap", nil, "the middle of the gear, where others are on the photo: x,y")
	return c
}

func countOn(file string, tap []float64) (*sight.Answer, error) {
	data, err := os.ReadFile(file)
	if err != nil {
		return nil, err
	}
	g, err := photo.ToGray(data)
	if err != nil {
		return nil, err
	}
	q := sight.Question{Gray: g.Pix, Width: g.Width, Height: g.Height, Shrunk: g.Shrunk}
	if len(tap) == 2 {
		q.Tap = &sight.Point{X: tap[0], Y: tap[1]}
	}
	return sight.Work(q)
}

// photoAccuracy draws gears and counts their teeth: how many are right, and does the
// stated chance hold?
func photoAccuracy(w, status io.Writer, pictures int, seed uint64) error {
	if pictures < 1 || pictures > 100_000 {
		return fmt.Errorf("%d pictures: choose 1 to 100,000", pictures)
	}
	bar := counter(status, pictures, "pictures")
	outcomes, bands := drawn.Try(pictures, seed, func() { _ = bar.Add(1) })
	fmt.Fprintf(w, "%-10s %9s %8s %12s %6s\n", "level", "pictures", "right", "called sure", "wrong")
	for _, o := range outcomes {
		fmt.Fprintf(w, "%-10s %9d %6.1f %% %12d %6d\n", o.Level, o.Pictures, percent(o.Right, max(1, o.Pictures)),
			o.Sure, o.Wrong)
	}
	fmt.Fprintf(w, "\n%-16s %8s %9s %9s\n", "called", "counts", "stated", "right")
	for _, b := range bands {
		if b.Counts > 0 {
			fmt.Fprintf(w, "%3.0f to %3.0f %% %14d %7.1f %% %7.1f %%\n", 100*b.From, min(100, 100*b.To), b.Counts,
				100*b.Stated/float64(b.Counts), percent(b.Right, b.Counts))
		}
	}
	return nil
}
