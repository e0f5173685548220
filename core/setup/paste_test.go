package setup

import (
	"fmt"
	"strings"
	"testing"
)

func (f Figure) line() string {
	out := f.Figure
	if f.Low != nil {
		out += fmt.Sprintf(" %g", *f.Low)
	}
	if f.High != nil {
		out += fmt.Sprintf(" %g", *f.High)
	}
	return out + " " + f.Unit
}

// Lines as they stand in manuals and messages.
func TestReadSheet(t *testing.T) {
	for text, want := range map[string]string{
		"Backlash 0.15–0.20 mm":                                "backlash 0.15 0.2 mm",
		"Ring gear backlash: .006 to .010 in.":                 "backlash 0.006 0.01 in",
		"BACKLASH 6-10 thou":                                   "backlash 6 10 thou",
		"Backlash 0,15 - 0,25":                                 "backlash 0.15 0.25 mm",
		"Backlash variation, max 0.07 mm":                      "backlash_difference 0.07 mm",
		"Pinion preload (new bearings) 20-35 in-lb":            "pinion_torque_new 20 35 lbf·in",
		"Pinion bearing preload, used bearings: 8 to 12 lb·in": "pinion_torque_used 8 12 lbf·in",
		"Total rotating torque 2.5 to 3.5 N·m":                 "total_torque_new 2.5 3.5 N·m",
		"Ring gear runout max .003 in":                         "back_face_runout 0.003 in",
		"Radial run-out of the gear 0.05 mm":                   "gear_runout 0.05 mm",
		"Pinion depth 109.16 mm":                               "depth 109.16 109.16 mm",
		"Side gear play 0.05 to 0.15 mm":                       "side_gear_play 0.05 0.15 mm",
		"Limited slip breakaway 60-120 lb-ft":                  "breakaway_torque 60 120 lbf·ft",
		"Clutch pack clearance 0.2 to 0.5mm":                   "clutch_clearance 0.2 0.5 mm",
		"Page 12: backlash 0.15 to 0.20 mm":                    "backlash 0.15 0.2 mm",
	} {
		s, err := ReadSheet(Pasted{Text: text})
		if err != nil {
			t.Fatal(err)
		}
		if len(s.Figures) != 1 || s.Figures[0].line() != want || len(s.Unread) > 0 {
			t.Errorf("%q: %+v unread %q, want %s", text, s.Figures, s.Unread, want)
		}
	}
}

// What a set-up has no use for, or what can't be, comes back as it was.
func TestReadSheetGivesBack(t *testing.T) {
	text := "Backlash 0.15 to 0.20 mm\nOil 2.1 L; Pinion preload 12\nBacklash difference: a little\nBacklash 0.9 to " +
		"0.2 mm\n\nTotal torque 3 to 4 N·m"
	s, err := ReadSheet(Pasted{Text: text, Source: "manual, page 3"})
	if err != nil {
		t.Fatal(err)
	}
	if got := strings.Join(s.Unread, "|"); got != "Oil 2.1 L|Pinion preload 12|Backlash difference: a little|Backlash 0.9 to 0.2 mm" {
		t.Errorf("unread %s", got)
	}
	if len(s.Figures) != 2 || s.Figures[0].Source != "manual, page 3" {
		t.Errorf("%+v", s.Figures)
	}
	for _, p := range []Pasted{{Text: strings.Repeat("a", 4001)}, {Text: "backlash 1", Unit: "furlong"}} {
		if _, err := ReadSheet(p); err == nil {
			t.Errorf("%.20s %s was taken", p.Text, p.Unit)
		}
	}
}

// Whatever is pasted, every figure that comes out can be used in a set-up.
func FuzzReadSheet(f *testing.F) {
	f.Add("Backlash 0.15–0.20 mm\nTotal torque 3 N·m")
	f.Add("backlash ٣ to 1e9 in")
	f.Fuzz(func(t *testing.T, text string) {
		s, err := ReadSheet(Pasted{Text: text})
		if err != nil {
			return
		}
		for _, x := range s.Figures {
			if err := x.Check(); err != nil {
				t.Errorf("%q: %+v: %v", text, x, err)
			}
		}
	})
}
