package changegear

import (
	"math"
	"strings"

	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// Event is a session at a track: what was fitted, by count, and what came of
// it.
type Event struct {
	Track   string  `json:"track"`
	Session string  `json:"session,omitempty"`
	Set     string  `json:"set,omitempty"`    // as it is called
	Before  *Pair   `json:"before,omitempty"` // counted as it came out
	After   Pair    `json:"after"`            // counted as it went in
	Sure    bool    `json:"sure,omitempty"`   // set and count disagree, and the count is right
	Tire    string  `json:"tire,omitempty"`
	Gear    string  `json:"gear,omitempty"`
	PeakRPM float64 `json:"peak_rpm,omitempty"`
	PeakKMH float64 `json:"peak_kmh,omitempty"`
	Weather string  `json:"weather,omitempty"`
	Words   string  `json:"words,omitempty"` // the driver's
}

// Logged is an event with what follows from it.
type Logged struct {
	Overall exact.Number `json:"overall"`
	Title   string       `json:"title"`
	// KMH is what the peak engine speed should have given without slip.
	KMH *float64 `json:"kmh,omitempty"`
	// Off is the measured speed against it, in percent: positive where the
	// tire grew, negative where the wheels spun.
	Off  *float64 `json:"off_percent,omitempty"`
	Text string   `json:"text"`
}

// Log works an event out. It refuses a set that is not what was counted until
// Sure says that the count is right.
func Log(q Request, e Event) (*Logged, error) {
	if err := fault.Figures(e); err != nil {
		return nil, fault.Under("event", err)
	}
	q.Goal = nil
	var errs fault.Errors
	if strings.TrimSpace(e.Track) == "" {
		errs.Add("event/track", "the track's name is needed: the next visit starts from it")
	}
	for field, p := range map[string]*Pair{"before": e.Before, "after": &e.After} {
		if p == nil {
			continue
		}
		if p.Input < MinTeeth || p.Input > MaxTeeth || p.Pinion < MinTeeth || p.Pinion > MaxTeeth {
			errs.Add("event/"+field+"/input", "count both gears: teeth from %d to %d", MinTeeth, MaxTeeth)
		}
	}
	if e.PeakRPM != 0 && !(e.PeakRPM >= 300 && e.PeakRPM <= 25000) {
		errs.Add("event/peak_rpm", "from 300 to 25000 rpm")
	}
	if e.PeakKMH != 0 && !(e.PeakKMH >= 5 && e.PeakKMH <= 500) {
		errs.Add("event/peak_kmh", "from 5 to 500 km/h (3 to 311 mph)")
	}
	for i, s := range q.Shelf {
		if e.Set == "" || !strings.EqualFold(s.Name, e.Set) || e.Sure {
			continue
		}
		if s.Teeth != [2]int{e.After.Input, e.After.Pinion} && s.Teeth != [2]int{e.After.Pinion, e.After.Input} {
			errs.Add("event/after/input", "set %s has %d and %d teeth, counted were %d and %d: count again, or say that the count is right", q.Shelf[i].Name, s.Teeth[0], s.Teeth[1], e.After.Input, e.After.Pinion)
		}
	}
	if len(errs) > 0 {
		return nil, errs
	}
	q.Fitted = &e.After
	w, err := q.settle(e.Gear, "event/gear")
	if err != nil {
		return nil, err
	}
	out := &Logged{Overall: w.base.Mul(e.After.ratio())}
	name := ""
	if e.Set != "" {
		name = "set " + say.Clip(e.Set, 30) + ", "
	}
	out.Title = say.Clip(strings.TrimSpace(e.Track), 60)
	if s := strings.TrimSpace(e.Session); s != "" {
		out.Title += ", " + say.Clip(s, 40)
	}
	out.Title += eventTitle(name, e, out)
	out.KMH = w.kmh(e.PeakRPM, w.gear, out.Overall)
	if out.KMH == nil || e.PeakKMH == 0 {
		out.Text = "With the peak engine speed and road speed of the run, and the tire rolled out, this would say how much the tire grew or the wheels spun."
		return out, nil
	}
	off := say.Round(100*(e.PeakKMH / *out.KMH - 1), 2)
	out.Off = &off
	speeds := measuredAgainst(e, w, out, off)
	switch {
	case math.Abs(off) <= w.spread:
		out.Text = speeds + withinSpread(w)
	case off > 0 && off <= 8:
		out.Text = speeds + ": the tire rolls that much farther at speed than when it was rolled out (it grows), or the speed is read high."
	case off > 0:
		out.Text = speeds + ": more than a tire grows. Is it the right gear, the right tire, and were both gears counted?"
	case off >= -15:
		out.Text = speeds + ": the wheels spun, or the clutch slipped, at the peak."
	default:
		out.Text = speeds + ": far more than wheelspin on a straight. Was it another gear, or are the two peaks of different moments?"
	}
	return out, nil
}
