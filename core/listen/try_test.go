package listen

import (
	"encoding/binary"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"os"
	"strconv"
	"testing"
	"time"
)

func wav(f string) []float64 {
	b, _ := os.ReadFile(f)
	x := make([]float64, (len(b)-44)/2)
	for i := range x {
		x[i] = float64(int16(binary.LittleEndian.Uint16(b[44+2*i:]))) / 32768
	}
	return x
}
func readings(f string) (out []Reading) {
	fd, err := os.Open(f)
	if err != nil {
		return nil
	}
	rows, _ := csv.NewReader(fd).ReadAll()
	for _, r := range rows[1:] {
		a, _ := strconv.ParseFloat(r[0], 64)
		b, _ := strconv.ParseFloat(r[1], 64)
		out = append(out, Reading{a, b})
	}
	return
}

const dir = "/work/shared/samples/sounds/"

type given struct {
	Rolling_circumference_m float64
	Gear                    any
	Speed_csv, Rpm_csv      string
	Engine_cylinders        int
	Axle                    *struct{ Pinion, Ring int }
	Axle_ratio_about        float64
	Gearbox                 *struct {
		Straight_through      bool
		Ratio                 float64
		Input_pair, Gear_pair []int
	}
	Transfer_low *struct {
		Pairs [][]int
		Ratio float64
	}
	Tire_tread_pitches int
	Wheel_bearing      *struct{ Outer_order, Inner_order float64 }
}

func (g given) vehicle() Vehicle {
	v := Vehicle{Circumference: g.Rolling_circumference_m, AxleRatio: g.Axle_ratio_about, Cylinders: g.Engine_cylinders, Pitches: g.Tire_tread_pitches}
	if g.Axle != nil {
		v.Axle = &Pair{g.Axle.Pinion, g.Axle.Ring}
	}
	if s, ok := g.Gear.(string); ok && s != "" {
		v.Neutral = true
	}
	if b := g.Gearbox; b != nil {
		v.GearRatio = b.Ratio
		if b.Input_pair != nil {
			v.GearPairs = append(v.GearPairs, Pair{b.Input_pair[0], b.Input_pair[1]})
		}
		if b.Gear_pair != nil {
			v.GearPairs = append(v.GearPairs, Pair{b.Gear_pair[0], b.Gear_pair[1]})
		}
	}
	if t := g.Transfer_low; t != nil {
		v.CaseRatio = t.Ratio
		for _, p := range t.Pairs {
			v.CasePairs = append(v.CasePairs, Pair{p[0], p[1]})
		}
	}
	if b := g.Wheel_bearing; b != nil {
		v.Bearings = []Bearing{{"rear left", b.Outer_order, b.Inner_order}}
	}
	return v
}

func TestTry(t *testing.T) {
	b, _ := os.ReadFile(dir + "sounds.json")
	var j struct {
		Cases []struct {
			ID    string
			Given given
			Truth struct {
				Dominant    string
				Speed_lag_s float64
			}
		}
	}
	if err := json.Unmarshal(b, &j); err != nil {
		t.Fatal(err)
	}
	for _, c := range j.Cases {
		t0 := time.Now()
		q := Question{Samples: wav(dir + c.ID + ".wav"), Rate: 8000, Speed: readings(dir + c.Given.Speed_csv), Vehicle: c.Given.vehicle()}
		if c.Given.Rpm_csv != "" {
			q.RPM = readings(dir + c.Given.Rpm_csv)
		}
		a, err := Work(q)
		if err != nil {
			t.Fatal(err)
		}
		fmt.Printf("%s %s | %s %s scale %.4f lag %.1f (%.1f) %v\n", c.ID, c.Truth.Dominant, a.State, a.Reason, a.Scale, a.Lag, c.Truth.Speed_lag_s, time.Since(t0))
		for _, s := range a.Sources {
			fmt.Printf("    %.3f %s level %.1f lines %d at %.2f of %.2f\n", s.Chance, s.Name, s.Level, s.Lines, s.Found, s.PerWheel)
		}
	}
}
