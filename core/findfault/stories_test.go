package findfault

import (
	"strings"
	"testing"

	"zorvel/core/driveline"
	"zorvel/core/driveline/breaks"
)

// More stories of the trade: what was told and tried, and who must lead.
func TestMoreStories(t *testing.T) {
	part, rear := layout(t, "part_time"), layout(t, "rear_drive")
	four := []string{"case.center", "locked"}
	low := []string{"case.center", "locked", "case.range", "low"}
	turned := func(set []string, seen ...string) Evidence {
		return lifted(part, "rear_prop.shaft", append([]string{"gearbox", "N"}, set...), seen...)
	}
	for name, c := range map[string]struct {
		d        driveline.Document
		evidence []Evidence
		leads    string // a suspect's sort
		part     string // or the part that most of it lies in
	}{
		"the front driveshaft is left out and nobody notices until the rear goes": {part, []Evidence{
			vehicle(breaks.Follows), vehicle(breaks.Follows, four...), vehicle(breaks.Follows, low...)}, "", ""},
		"a locker that should hold does not": {part, []Evidence{
			vehicle(breaks.Follows), turned([]string{"rear.lock", "locked"}, "rear_left.wheel", breaks.Stays,
				"rear_right.wheel", breaks.Stays)}, "lock", "rear"},
		"it pulls into a corner by itself, the lock is out": {part, []Evidence{
			vehicle(breaks.Follows), turned(nil, "rear_left.wheel", breaks.Follows, "rear_right.wheel", breaks.Follows)}, "lock", "rear"},
		"no low range, high is well": {part, []Evidence{vehicle(breaks.Follows), vehicle(breaks.Stays, low...)}, "", "case"},
		"one wheel is hot and it won't roll": {rear, []Evidence{
			vehicle(breaks.Locked), vehicle(breaks.Locked, "gearbox", "2"), vehicle(breaks.Locked, "gearbox", "3"),
			vehicle(breaks.Locked, "gearbox", "4"), vehicle(breaks.Locked, "gearbox", "5"),
			lifted(rear, "prop.shaft", []string{"gearbox", "N"}, "rear_left.wheel", breaks.Locked)}, "brake", ""},
		"fourth is gone, the rest is well": {rear, []Evidence{
			vehicle(breaks.Follows), vehicle(breaks.Follows, "gearbox", "3"), vehicle(breaks.Stays, "gearbox", "4"),
			vehicle(breaks.Follows, "gearbox", "5")}, "", "gearbox"},
		"stuck between two gears": {rear, []Evidence{vehicle(breaks.Locked), vehicle(breaks.Locked, "gearbox", "3"),
			vehicle(breaks.Follows, "gearbox", "2")}, "dogs", "gearbox"},
		"no gear drives, nothing turns behind": {rear, []Evidence{
			vehicle(breaks.Stays), vehicle(breaks.Stays, "gearbox", "4"),
			lifted(rear, "prop.shaft", []string{"gearbox", "N"}, "rear_left.wheel", breaks.Stays, "rear_right.wheel",
				breaks.Stays)}, "stub", ""},
		"after one end was re-geared it winds up": {part, []Evidence{
			vehicle(breaks.Follows), vehicle(breaks.Locked, four...), vehicle(breaks.Locked, four...)}, "", "front"},
		"driven home on the front axle": {part, []Evidence{
			vehicle(breaks.Stays), vehicle(breaks.Follows, four...), turned([]string{"rear.lock", "locked"}, "rear_left.wheel",
				breaks.Follows, "rear_right.wheel", breaks.Follows)}, "shaft", ""},
	} {
		a := find(t, Question{Driveline: c.d, Evidence: c.evidence})
		top := a.Suspects[0]
		if c.leads != "" && top.Sort != c.leads {
			t.Errorf("%s: %s leads (%.2f), not a %s: %s", name, top.Name, top.Probability, c.leads, a.Sentence)
		}
		if c.part != "" && a.Parts[c.part] < 0.4 {
			t.Errorf("%s: %.2f in the %s: %v", name, a.Parts[c.part], c.part, a.Parts)
		}
		if c.leads == "" && c.part == "" && a.Settled {
			t.Errorf("%s: settled, where all is as it should: %s", name, a.Sentence)
		}
		total := a.Sound
		for _, x := range a.Suspects {
			total += x.Probability
			if x.Probability < 0 || x.Probability > 1.0001 {
				t.Errorf("%s: %+v", name, x)
			}
		}
		if total < 0.3 || len(a.Cautions) == 0 || strings.Contains(a.Sentence, "%!") {
			t.Errorf("%s: %v %s", name, total, a.Sentence)
		}
	}
}

// What is proposed is safe to read: on stands the lift is not counted again, a
// road test has its caution, and none repeats what settles nothing.
func TestNextTestIsSaid(t *testing.T) {
	d := layout(t, "part_time")
	q := Question{Driveline: d, Evidence: []Evidence{vehicle(breaks.Stays)}}
	down := find(t, q).Next
	q.OnStands = true
	up := find(t, q).Next
	if down == nil || up == nil || down.Road || down.Minutes != handMinutes+liftMinutes || up.Minutes != handMinutes {
		t.Fatalf("%+v and %+v", down, up)
	}
	if len(down.Cautions) == 0 || !strings.Contains(down.Setup[0], "stands") || len(down.Outcomes) < 2 {
		t.Errorf("%+v", down)
	}
	for _, o := range down.Outcomes {
		if strings.Contains(o.Words, "front left wheel") {
			t.Errorf("%q tells of what all foretell alike", o.Words)
		}
	}
}
