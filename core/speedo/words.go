package speedo

// What the answers say. A change of wording is a change here and nowhere else.

import (
	"fmt"
	"math"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/exact"
	"zorvel/core/say"
)

func highBy(pct float64) string {
	if pct < 0.005 {
		return "true"
	}
	return "reads " + say.Trim(pct, 2) + " % high"
}

// markOf sorts an error into the marks; the sign is exact.
func markOf(e exact.Number) (string, string) {
	pct := e.Float() * 100
	size := say.Trim(math.Abs(pct), 2) + " %"
	if pct != 0 && math.Abs(pct) < 0.01 {
		size = "under 0.01 %"
	}
	switch {
	case e.Sign() < 0:
		return MarkLow, "reads " + size + " low: not road legal in most places"
	case e.IsZero():
		return MarkGood, "true"
	case pct <= goodTo:
		return MarkGood, "reads " + size + " high"
	case pct <= usableTo:
		return MarkUsable, "reads " + size + " high, usable"
	}
	return MarkHigh, "reads " + size + " high: too much"
}

// calibrateText says what to set.
func calibrateText(a *ElectronicAnswer, e Electronic) string {
	return fmt.Sprintf("Calibrate to %s pulses per %s.", a.New.Short(1), e.Per)
}

// setLow says how low it reads as it is set.
func setLow(e Electronic, pct float64) string {
	return fmt.Sprintf(" Set to %s now, it reads %s %% low.", e.Calibrated.Short(1), say.Trim(-pct, 2))
}

// setHigh says how high it reads as it is set.
func setHigh(e Electronic, pct float64) string {
	return fmt.Sprintf(" Set to %s now, it reads %s %% high.", e.Calibrated.Short(1), say.Trim(pct, 2))
}

// calibrationRight says that nothing is to be set.
func calibrationRight(a *ElectronicAnswer, e Electronic) string {
	return fmt.Sprintf("The calibration of %s pulses per %s is right.", a.New.Short(1), e.Per)
}

// entryText says what a coarse tool is to be told, and what that makes of the reading.
func (t *Tool) entryText(r exact.Figure, size exact.Number, pct float64) string {
	return fmt.Sprintf("ratio %s, tire %s %s: %s", r.Short(3), size.Short(2), t.Unit, highBy(pct))
}

// tireSpreadNote says how far every error can be trusted.
func tireSpreadNote(s Shaft) string {
	return fmt.Sprintf("The tire's rolling is known to ± %s %%: every error here has that much play. Roll the tire "+
		"out loaded, or check on the road.", say.Trim(s.Spread, 1))
}

// housingNote says that a housing takes other gears than it is marked for.
func housingNote(h Housing) string {
	return fmt.Sprintf("Housing %s is marked %d to %d and takes %d to %d teeth.", h.Name, h.MarkedFrom, h.MarkedTo,
		h.TakesFrom, h.TakesTo)
}

// notLowByTire says what the pick allows for.
func notLowByTire(spread float64) string {
	return fmt.Sprintf("Does not read low even if the tire rolls %s %% farther than figured.", say.Trim(spread, 1))
}

// notLowByRatios says what the pick allows for where no tire is asked.
func notLowByRatios(spread float64) string {
	return fmt.Sprintf("Does not read low even if the ratios are off by %s %%.", say.Trim(spread, 2))
}

// adapterText is what an adapter box makes of a pair.
func adapterText(best *AdapterPick) string {
	return fmt.Sprintf("%d and %d teeth with %s (%s turns out per turn in) read %s %% high.", best.Drive, best.Driven,
		best.Name, best.Ratio.Short(4), say.Trim(best.Percent, 2))
}

// adapterWanted is the box to ask for where the shop has none.
func adapterWanted(near *Cell, r exact.Number) string {
	return fmt.Sprintf("With %d and %d teeth an adapter box of %s turns out per turn in would make it true; take the "+
		"next ratio above, so that it doesn't read low.", near.Drive, near.Driven, r.Short(4))
}

// tireStays says why no tire is asked for.
func tireStays() string {
	return fmt.Sprintf(" The tire stays, so its size doesn't matter: this is figured with one that rolls %s m a turn.",
		meters(anyTire).Short(0))
}

// inConflict warns of an axle whose readings disagree.
func inConflict(x driveline.AxleEnd) string {
	return fmt.Sprintf("The %s's %s is in conflict: readings at the bench disagree. Settle that before "+
		"fitting anything.", strings.ToLower(x.Name), x.Ratio.Decimal(2))
}

// poorFix is why a fix was left out.
func poorFix(f Fix) string {
	return fmt.Sprintf("poor fix: dilution of precision %s", say.Trim(f.HDOP, 1))
}

// jumped is why a fix was left out.
func jumped(d float64) string {
	return fmt.Sprintf("jump of %s km", say.Trim(d/1000, 1))
}

// tooFast is why a fix was left out.
func tooFast(d, dt float64) string {
	return fmt.Sprintf("jump: %s km/h (%s mph) from the fix before", say.Trim(d/dt*3.6, 0),
		say.Trim(d/dt*3.6/say.KMPerMile, 0))
}

func (t *Track) words() {
	t.Text = fmt.Sprintf("%d of %d fixes used: %s km", t.Used, t.Fixes, say.Trim(t.Meters/1000, 3))
	if t.Timed {
		t.Text += fmt.Sprintf(" in %s min of driving", say.Trim(t.Moving/60, 1))
	} else {
		t.Text += "; the points carry no times, so pauses don't show"
	}
	if t.Paused > 0 {
		t.Text += fmt.Sprintf(", %s min standing", say.Trim(t.Paused/60, 1))
	}
	if t.Gaps > 0 {
		gaps := "gaps"
		if t.Gaps == 1 {
			gaps = "gap"
		}
		t.Text += fmt.Sprintf(", %d %s with %s m taken straight", t.Gaps, gaps, say.Trim(t.GapMeters, 0))
	}
	t.Text += "."
}

// runName names a run by the watch.
func runName(i int, r Run) string {
	return fmt.Sprintf("run %d: %s m in %s s", i+1, say.Trim(r.Meters, 1), say.Trim(r.Seconds, 2))
}

// notedName names a speed that was noted.
func notedName(sec float64) string {
	return fmt.Sprintf("noted at %s s", say.Trim(sec, 0))
}

// leftOutNoted says why a noted speed doesn't count.
func leftOutNoted(sec float64) string {
	return fmt.Sprintf("The speed noted at %s s falls into a gap or a pause and was left out.", say.Trim(sec, 0))
}

// gapsNote says that the track may be longer than figured.
func gapsNote(t *Track) string {
	return fmt.Sprintf("%s %% of the track is in gaps and was taken straight: the true distance "+
		"may be longer, and then the speedometer reads lower than shown here.", say.Trim(t.GapMeters/t.Meters*100, 1))
}

// calibrationStays says that what is off is less than can be told.
func calibrationStays(v Verify) string {
	return fmt.Sprintf("The calibration of %s pulses per km stays: what is off is less than this check can tell.",
		v.Calib.Short(1))
}

// newCalibration is what to set after a check.
func newCalibration(v Verify, k, p float64) string {
	return fmt.Sprintf("New calibration: %s × %s = %s pulses per km.", v.Calib.Short(1), say.Trim(k, 4), say.Trim(p, 1))
}

// withDrive names the drive gear where it is known.
func withDrive(v Verify) string {
	return fmt.Sprintf(" with the drive gear of %d", v.Drive)
}

// drivenStays says that what is off is less than a tooth.
func (o *Verified) drivenStays(v Verify, tooth float64) string {
	return fmt.Sprintf("The driven gear of %d teeth stays: %s %% ± %s %% is less than the %s %% of one tooth.", v.Driven,
		say.Signed(o.Percent, 1), say.Trim(o.Sure, 1), say.Trim(tooth, 1))
}

// drivenRight says that no other count comes nearer.
func drivenRight(v Verify, ideal float64) string {
	return fmt.Sprintf("The driven gear of %d teeth stays: true would be %s.", v.Driven, say.Trim(ideal, 2))
}

// drivenNext is the gear to fit after a check.
func drivenNext(v Verify, k, ideal float64, with string, n int) string {
	return fmt.Sprintf("Driven gear: %d × %s = %s teeth%s; %d is the next that doesn't read low (%s %%).", v.Driven,
		say.Trim(k, 4), say.Trim(ideal, 2), with, n, say.Signed((ideal/math.Max(1, float64(n))-1)*100, 1))
}

// Rules lists common tolerances. They are a reference; local rules decide.
func Rules() []Rule {
	return []Rule{
		{"UN Regulation 39 and the rules made after it", "Never below the true speed; at most 10 % of it plus 4 km/h above."},
		{"Rules with limits both ways, as for commercial trucks in some countries",
			"Within 8 km/h (5 mph) at 80 km/h (50 mph)."},
		{"Odometer", "Often 4 % either way; changing what it counted before is an offense in most places. Write the " +
			"correction down instead."},
	}
}

// Fitting lists the steps; drive says that the gear inside is changed too.
func Fitting(drive bool) []FitStep {
	s := []FitStep{
		{"Stand the vehicle level, engine off, key out, wheels chocked. Clean around the housing.",
			"With the transmission in neutral and the brake off it rolls. Jack stands on rated points, never only a jack."},
		{"Mark the housing's clock position, then remove screw and bracket and pull the housing straight out.",
			"Oil may follow: have a tray ready; it may be hot."},
	}
	if drive {
		s = append(s,
			FitStep{"Open the rear housing as the maker's manual says. Take the clip off and slide the drive gear off the " +
				"shaft.", "Heavy parts: jack and cradle. Clips fly: eye protection."},
			FitStep{"Slide the new drive gear on and seat its clip in the right hole. Where slot and teeth are symmetrical " +
				"it goes on either way round.",
				"The clip has a right hole: the wrong one puts the gear off center and it strips the driven gear."})
	}
	s = append(s,
		FitStep{"Count the new driven gear: lay it on its side and count where each spiral ends on the face.",
			"Don't go by color."},
		FitStep{"Put the seal on the part that carries it, grease it, and the O-ring too.",
			"A seal on the wrong part leaks into the cable and up to the instrument."},
		FitStep{"Put gear and housing in; turn an eccentric housing to the clock position for this tooth range.",
			"The wrong position meshes too deep or too loose."},
		FitStep{"Turn the shaft by hand and see the driven gear turn; then fit bracket and screw at the manual's torque.",
			"Nobody in the line of a turning wheel or shaft."},
	)
	if drive {
		s = append(s,
			FitStep{"Close the rear housing: clean faces, new gasket; its seal sits on the housing, flush all around and " +
				"greased.", "A seal that isn't flush is pinched and leaks at once."},
			FitStep{"Fit shaft and flange, pull the bolts crosswise at the manual's torque, and turn the shaft again: it " +
				"turns freely and the driven gear turns with it.", "Heavy parts: jack and cradle."})
	}
	return append(s, FitStep{"Fill up the oil that was lost. Check on the road or with a stopwatch.", ""})
}
