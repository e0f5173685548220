package driveline

import (
	"encoding/json"
	"fmt"
	"testing"
)

func TestSmoke(t *testing.T) {
	for _, l := range Layouts() {
		d := l.Document
		tr, err := Run(&d, State{}, Want{Gears: true, Shifts: true, Tests: true})
		if err != nil {
			t.Fatal(l.ID, err)
		}
		fmt.Println("==", l.ID, len(tr.Shafts), tr.Sentence)
		for _, n := range tr.Notes {
			fmt.Println("   ", n.Kind, n.Text)
		}
		for _, o := range tr.Outputs {
			fmt.Println("   out", o.Name, o.ShareWords, len(o.Path))
		}
		if tr.Match != nil {
			fmt.Println("   match", tr.Match.Verdict, tr.Match.Formula)
		}
		fmt.Println("   gears", len(tr.Gears), "shifts", len(tr.Shifts), "tests", len(tr.Tests))
		b := d.Blank()
		tr, err = Run(&b, State{}, Want{Gears: true, Shifts: true, Tests: true})
		if err != nil {
			t.Fatal(l.ID, err)
		}
		fmt.Println("   blank:", tr.Sentence)
		if l.ID == "part_time" {
			for _, s := range []State{{Select: map[string]string{"case.center": "locked"}}, {Select: map[string]string{"case.center": "locked"}, Corner: &Corner{8, "left"}}, {Wheels: map[string]string{"rear_left": "lifted"}}, {Hold: []string{"rear_left"}, Wheels: map[string]string{"rear_left": "lifted", "rear_right": "lifted"}, Input: &Input{Shaft: "rear_prop.shaft"}, Select: map[string]string{"gearbox": "N"}}} {
				tr, err = Run(&d, s, Want{})
				if err != nil {
					t.Fatal(err)
				}
				fmt.Println("  ", tr.Sentence)
				js, _ := json.Marshal(tr.Shafts)
				_ = js
				for _, x := range tr.Shafts {
					if x.State != "driven" {
						fmt.Println("      ", x.ID, x.State, x.Why)
					} else {
						fmt.Println("      ", x.ID, x.Speed, x.Direction, x.Torque, x.TorqueWords, x.Power)
					}
				}
			}
		}
	}
}
