package main

import (
	"bufio"
	"errors"
	"fmt"
	"math/rand/v2"

	"github.com/spf13/cobra"

	"zorvel/core/road"
)

// driveCommand prints what a simulated vehicle's recorder would.
func driveCommand() *cobra.Command {
	d := road.Drive{Axle: 41.0 / 11, RollingMM: 2350, Between: road.Converter, From: road.Satellite, Seconds: 500}
	var seed uint64
	c := &cobra.Command{
		Use:   "drive",
		Short: "Print a simulated drive as CSV: engine speed and road speed through the gears (docs/sensors.md)",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if len(d.Gears) == 0 || d.Axle <= 0 || d.RollingMM <= 0 || d.Seconds <= 0 || d.Seconds > 20_000 {
				return errors.New("gears, axle and tire are above zero, and a drive is 20,000 seconds at most")
			}
			w := bufio.NewWriter(c.OutOrStdout())
			fmt.Fprintln(w, "seconds,rpm,speed_kmh")
			for _, s := range d.Run(rand.New(rand.NewPCG(seed, 1))) {
				fmt.Fprintf(w, "%.1f,%.0f,%.1f\n", s.At, s.RPM, s.SpeedKMH)
			}
			return w.Flush()
		},
	}
	f := c.Flags()
	f.Float64SliceVar(&d.Gears, "gears", []float64{4.7, 2.99, 2.15, 1.8, 1.52, 1.28, 1, 0.85, 0.69, 0.64},
		"the gearbox's ratios, first gear first")
	f.Float64Var(&d.Axle, "axle", d.Axle, "the axle's ratio")
	f.Float64Var(&d.RollingMM, "rolling", d.RollingMM, "what the tire rolls a turn, in mm")
	f.Float64Var(&d.Seconds, "seconds", d.Seconds, "how long it is")
	f.StringVar((*string)(&d.Between), "between", string(d.Between), "clutch or converter")
	f.StringVar((*string)(&d.From), "from", string(d.From), "source of the road speed: satellite or wheels")
	f.BoolVar(&d.Overrun, "overrun", true, "now and then the foot is off")
	f.BoolVar(&d.Spin, "spin", false, "now and then a wheel spins")
	f.Uint64Var(&seed, "seed", 1, "the same seed gives the same drive")
	return c
}
