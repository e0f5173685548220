package main

import (
	"encoding/json"
	"fmt"
	"io"
	"os"
	"strings"

	"github.com/spf13/cobra"

	"zorvel/core/listen"
	"zorvel/core/listen/drives"
	"zorvel/internal/sound"
)

func listenCommand() *cobra.Command {
	var vehicle string
	var csv []string
	var constant float64
	c := &cobra.Command{
		Use:   "listen RECORDING.wav --vehicle vehicle.json --csv speed.csv",
		Short: "Name what howls in a recording, as the bench does",
		Long: "The vehicle is a JSON file, or JSON itself, as in the contract: " +
			`{"rolling_m": 2.19, "axle": {"drive": 8, "driven": 39}, "gear_ratio": 1, "cylinders": 4}.`,
		Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			q := listen.Question{Constant: constant}
			data, err := os.ReadFile(args[0])
			if err != nil {
				return err
			}
			if q.Samples, q.Rate, err = sound.Read(data); err != nil {
				return fmt.Errorf("%s: %w", args[0], err)
			}
			if q.Vehicle, err = readVehicle(vehicle); err != nil {
				return fmt.Errorf("--vehicle: %w", err)
			}
			if err := readSpeeds(&q, csv); err != nil {
				return err
			}
			a, err := listen.Work(q)
			if err != nil {
				return err
			}
			e := json.NewEncoder(c.OutOrStdout())
			e.SetIndent("", " ")
			a.Map.Rows = [][]int{} // a picture, for the page
			return e.Encode(a)
		},
	}
	c.Flags().StringVar(&vehicle, "vehicle", "", "what is known of the vehicle: a JSON file, or JSON")
	c.Flags().StringArrayVar(&csv, "csv", nil, "speed or engine speed beside the recording: seconds and speed_kmh, speed_mph or rpm")
	c.Flags().Float64Var(&constant, "kmh", 0, "the constant speed, where none was recorded")
	return c
}

func readVehicle(text string) (v listen.Vehicle, err error) {
	data := []byte(text)
	if !strings.HasPrefix(strings.TrimSpace(text), "{") {
		if data, err = os.ReadFile(text); err != nil {
			return v, err
		}
	}
	return v, json.Unmarshal(data, &v)
}

func readSpeeds(q *listen.Question, files []string) error {
	for _, f := range files {
		text, err := os.ReadFile(f)
		if err != nil {
			return err
		}
		speed, rpm, err := listen.ReadCSV(string(text))
		if err != nil {
			return fmt.Errorf("%s: %w", f, err)
		}
		if len(speed) > 0 {
			q.Speed = speed
		}
		if len(rpm) > 0 {
			q.RPM = rpm
		}
	}
	return nil
}

// soundAccuracy makes drives and listens to them: how many sources are named right, and
// does the stated chance hold?
func soundAccuracy(w, status io.Writer, count int, seed uint64) error {
	if count < 1 || count > 1_000_000 {
		return fmt.Errorf("%d drives: choose 1 to 1,000,000", count)
	}
	bar := counter(status, count, "drives")
	o, err := drives.Try(count, seed, func() { _ = bar.Add(1) })
	if err != nil {
		return err
	}
	fmt.Fprintf(w, "of %d with one clear source %.1f %% named right; of the other %d %.1f %% answered \"can't tell\"\n",
		o.Tellable, percent(o.Right, max(1, o.Tellable)), o.Not, percent(o.Said, max(1, o.Not)))
	fmt.Fprintf(w, "\n%-16s %8s %9s %9s\n", "called", "named", "stated", "right")
	for _, b := range o.Bands {
		if b.Named > 0 {
			fmt.Fprintf(w, "%3.0f to %3.0f %% %13d %7.1f %% %7.1f %%\n", 100*b.From, min(100, 100*b.To), b.Named,
				100*b.Stated/float64(b.Named), percent(b.Right, b.Named))
		}
	}
	return nil
}
