package gearcase

import (
	"fmt"
	"math"
	"slices"

	"zorvel/core/backlash"
	"zorvel/core/fault"
	"zorvel/core/say"
	"zorvel/core/shim"
	"zorvel/core/typed"
)

// Assembly is one time that the case was together: the shim under the gear and
// the dial's readings, around the gear.
type Assembly struct {
	ShimMM   float64   `json:"shim_mm"`
	Readings []float64 `json:"readings_mm"` // as the dial showed them
	// Pieces are the shims that make ShimMM, where they are known: they go back
	// into the box.
	Pieces []float64 `json:"pieces_mm,omitempty"`
	// Sure: what looked like another unit was looked at again.
	Sure bool `json:"sure,omitempty"`
}

// Backlash asks what to do after a measurement.
type Backlash struct {
	Gear string `json:"gear"` // as it is called: forward gear
	// Unit is what its sentences say lengths in, and what a shim of the box without
	// a unit is in: mm, or in.
	Unit    string        `json:"unit,omitempty"`
	Mesh    backlash.Mesh `json:"mesh"`               // of the gear that the shim moves, and its pinion
	Thicker string        `json:"thicker"`            // away or toward
	ArmMM   float64       `json:"arm_mm,omitempty"`   // radius of the dial's arm; at the teeth if left out
	PitchMM float64       `json:"pitch_mm,omitempty"` // pitch radius of the shaft's own gear, needed with an arm
	LowMM   float64       `json:"low_mm"`             // the maker's band, at the teeth
	HighMM  float64       `json:"high_mm"`
	// RepeatMM is what the gauge repeats to, at the teeth: 0.01 if left out.
	RepeatMM   float64     `json:"repeat_mm,omitempty"`
	Assemblies []Assembly  `json:"assemblies"` // in the order in which they were made
	Box        string      `json:"box,omitempty"`
	Shims      []shim.Shim `json:"shims,omitempty"`
	Most       int         `json:"most_pieces,omitempty"`
	// Housings is what other shops' cases say of the sensitivity, where they do.
	Housings *backlash.Housings `json:"housings,omitempty"`
}

// Measured is one assembly as it came out.
type Measured struct {
	ShimMM     float64 `json:"shim_mm"`
	BacklashMM float64 `json:"backlash_mm"` // at the teeth, mean
	LeastMM    float64 `json:"least_mm"`
	GreatestMM float64 `json:"greatest_mm"`
	State      string  `json:"state"` // in, tight or loose
	Text       string  `json:"text"`
}

// Verdict says whether it is good, and the next move.
type Verdict struct {
	Measured    []Measured  `json:"measured"`
	Done        bool        `json:"done"`
	Sentence    string      `json:"sentence"`
	NextMM      *float64    `json:"next_mm,omitempty"` // the next shim
	Stack       *shim.Stack `json:"stack,omitempty"`
	ExpectedMM  *float64    `json:"expected_mm,omitempty"`
	SpreadMM    *float64    `json:"spread_mm,omitempty"` // two standard deviations of what is expected
	Sensitivity float64     `json:"sensitivity"`         // backlash per shim
	Law         float64     `json:"law"`
	Learned     bool        `json:"learned"`
	Formula     string      `json:"formula"`
	Warnings    []string    `json:"warnings"`
	Schools     []string    `json:"schools"`
	Cautions    []string    `json:"cautions"`
}

var schools = []string{
	"One school sets bevel gears with almost no play: quiet, and the teeth meet over their whole length.",
	"The other asks for a gap you can feel: room for the oil film and for the gears, which warm up faster than the case.",
	"The maker's range decides. Rocking with no shim only shows that the gears can move: it measures neither.",
}

// mostMove is the greatest move that is proposed at once, in millimeters.
const mostMove = 1.0

// MostAssemblies and MostReadings bound how many of one gear are taken.
const (
	MostAssemblies = 40
	MostReadings   = 24
)

func (b *Backlash) check() error {
	var errs fault.Errors
	b.Mesh.Check("mesh/", &errs)
	if b.Thicker != "away" && b.Thicker != "toward" {
		errs.Add("thicker", "which way a thicker shim moves this gear: away from its mesh or toward it")
	}
	if b.Unit != "" && b.Unit != typed.Millimeters && b.Unit != typed.Inches {
		errs.Add("unit", "mm or in")
	}
	if !(b.LowMM > 0 && b.LowMM < b.HighMM && b.HighMM <= 3) {
		errs.Add("low_mm", "the maker's backlash range, low to high; see the manual")
	}
	if b.RepeatMM == 0 {
		b.RepeatMM = 0.01
	}
	if !(b.RepeatMM > 0 && b.RepeatMM <= 0.2) {
		errs.Add("repeat_mm", "what the gauge repeats to, up to 0.2 mm")
	}
	if b.ArmMM != 0 || b.PitchMM != 0 {
		if !(b.ArmMM >= 5 && b.ArmMM <= 1000) {
			errs.Add("arm_mm", "radius at which the dial touches its arm, from 5 to 1000 mm")
		}
		if !(b.PitchMM >= 3 && b.PitchMM <= 500) {
			errs.Add("pitch_mm", "pitch radius of the gear on the shaft that the arm sits on, from 3 to 500 mm")
		}
	}
	if len(b.Assemblies) == 0 || len(b.Assemblies) > MostAssemblies {
		errs.Add("assemblies", "from 1 to %d assemblies", MostAssemblies)
	}
	for i, a := range b.Assemblies {
		at := fmt.Sprintf("assemblies/%d/", i)
		if !(a.ShimMM >= 0 && a.ShimMM <= 20) {
			errs.Add(at+"shim_mm", "the shims installed, from 0 to 20 mm")
		}
		if len(a.Readings) == 0 || len(a.Readings) > MostReadings {
			errs.Add(at+"readings_mm", "from 1 to %d readings, around the gear", MostReadings)
		}
		if sum := 0.0; len(a.Pieces) > 0 {
			for _, p := range a.Pieces {
				sum += p
			}
			if len(a.Pieces) > 12 || math.Abs(sum-a.ShimMM) > 0.0026 {
				errs.Add(at+"pieces_mm", "at most 12 pieces, which add up to the %s mm of shims installed", say.Trim(a.ShimMM, 3))
			}
		}
		for k, r := range a.Readings {
			if !(r >= 0 && r <= 20) {
				errs.Add(fmt.Sprintf("%sreadings_mm/%d", at, k), "from 0 to 20 mm; a dial that ran backward is read as its way, without a sign")
			}
		}
	}
	if b.Most == 0 {
		b.Most = 4
	}
	if b.Housings != nil {
		b.Housings.Check("housings/", &errs)
	}
	if b.Most < 1 || b.Most > shim.MaxPieces {
		errs.Add("most_pieces", "from 1 to %d", shim.MaxPieces)
	}
	return errs.Err()
}

// Judge says how the backlash stands and which shim comes next. Faults are
// fault.Errors with paths within the request.
func Judge(b Backlash) (*Verdict, error) {
	if err := fault.Figures(b); err != nil {
		return nil, err
	}
	if err := b.check(); err != nil {
		return nil, err
	}
	v := &Verdict{Measured: []Measured{}, Warnings: []string{}, Schools: schools, Cautions: cautions, Law: say.Round(b.Mesh.Sensitivity(), 4)}
	var trials []backlash.Trial
	for _, a := range b.Assemblies {
		m := b.measured(a)
		v.Measured = append(v.Measured, m)
		trials = append(trials, backlash.Trial{ShimMM: a.ShimMM, BacklashMM: m.BacklashMM})
	}
	now := v.Measured[len(v.Measured)-1]
	l := b.learn(b.believed(), trials)
	v.Sensitivity, v.Learned = say.Round(l.Slope, 4), !l.ByLaw
	b.warn(v, now, l, trials)
	v.Formula = b.formula(l)
	if last := b.Assemblies[len(b.Assemblies)-1]; !last.Sure {
		ask := backlash.AskLimits(b.LowMM, b.HighMM)
		if ask == "" {
			ask = backlash.AskReading(now.BacklashMM, b.LowMM, b.HighMM)
		}
		if ask != "" {
			v.Sentence = ask
			return v, nil
		}
	}
	if b.settled(v, now, l, len(trials)) {
		return v, nil
	}
	return v, b.nextShim(v, now, l)
}

// settled says what needs no shim, or what no shim cures.
func (b *Backlash) settled(v *Verdict, now Measured, l backlash.Learned, trials int) bool {
	switch {
	case now.LeastMM >= b.LowMM && now.GreatestMM <= b.HighMM:
		v.Done = true
		v.Sentence = b.say("Good: %s mm at the %s, everywhere within %s to %s mm.", b.n(now.BacklashMM), b.Gear, b.n(b.LowMM), b.n(b.HighMM))
	case now.GreatestMM-now.LeastMM > b.HighMM-b.LowMM:
		v.Sentence = b.say("Shims won't fix this: around the %s it runs from %s to %s mm, more than the whole range. "+
			"Look for dirt under the bearing, a bent shaft or a worn gear.", b.Gear, b.n(now.LeastMM), b.n(now.GreatestMM))
	case l.Flipped && trials > 2:
		v.Sentence = "The moves went the wrong way: the shim's side or the sign is probably the other one. Check which way a thicker shim moves this gear before another."
	case l.Flipped:
		v.Sentence = "The move went the wrong way: check which way a thicker shim moves this gear, and that the shim went under it, before the next."
	case !l.ByLaw && math.Abs(l.Slope) < v.Law/4:
		v.Sentence = b.barelyMoved(l, v)
	case b.without(v.Law):
		v.Sentence = b.movedNothing()
	default:
		return false
	}
	return true
}

// without reports whether the last shim that was changed had no effect: less than a
// quarter of what the teeth make of it, or than the gauge sees.
func (b *Backlash) without(law float64) bool {
	n := len(b.Assemblies)
	if n < 2 {
		return false
	}
	was, now := b.measured(b.Assemblies[n-2]), b.measured(b.Assemblies[n-1])
	should := law * math.Abs(now.ShimMM-was.ShimMM)
	return should > 3*b.RepeatMM && math.Abs(now.BacklashMM-was.BacklashMM) < should/4
}

// nextShim finds the shim that brings the mean to the middle of the band. The
// box is as it is written down: what comes out is put into it first.
func (b *Backlash) nextShim(v *Verdict, now Measured, l backlash.Learned) error {
	last := b.Assemblies[len(b.Assemblies)-1]
	move := ((b.LowMM+b.HighMM)/2 - now.BacklashMM) / l.Slope
	if math.Abs(move) > mostMove {
		v.Warnings = append(v.Warnings, b.say("By the figures it would move %s mm, more than a case is ever off: is it the right gear, dial and arm? Not more than %s mm at once.", b.n(math.Abs(move)), b.n(mostMove)))
		move = math.Copysign(mostMove, move)
	}
	want := math.Min(20, math.Max(0, last.ShimMM+move))
	box := b.Shims
	if b.Box != "" {
		more, err := shim.ParseBox(b.Box, b.Unit)
		if err != nil {
			return err
		}
		box = append(slices.Clone(box), more...)
	}
	next := want
	if len(box) > 0 {
		box = shim.With(box, last.Pieces...)
		list, err := shim.Choose(box, []shim.Target{{WantMM: want, TolMM: math.Min(1, (b.HighMM-b.LowMM)/4/math.Abs(l.Slope))}}, b.Most)
		if err != nil {
			return err
		}
		v.Stack, next = &list[0], list[0].TotalMM
	}
	next = say.Round(next, 4)
	step := next - last.ShimMM
	state := map[string]string{"tight": "Too tight", "loose": "Too loose", "in": "Not within the range everywhere"}[now.State]
	small := func(mm float64) bool { return math.Abs(l.Slope*mm) < b.RepeatMM }
	switch {
	case small(move):
		v.Done = now.State == "in"
		v.Sentence = b.say("Stop here: the next step, %s mm of shim, would change less than the gauge repeats (%s mm). "+
			"Backlash is %s mm.", map[bool]string{true: "+"}[move > 0]+b.n(move), b.n(b.RepeatMM), b.n(now.BacklashMM))
		return nil
	case small(step) || math.Abs(next-want) > math.Abs(last.ShimMM-want):
		v.Sentence = b.say("%s: %s mm, and the box has nothing better: it needs a %s mm shim, %s mm is installed, and "+
			"the closest stack from the box is %s mm.", state, b.n(now.BacklashMM), b.n(want), b.n(last.ShimMM), b.n(next))
		return nil
	}
	expected := say.Round(now.BacklashMM+l.Slope*step, 4)
	if expected <= b.RepeatMM { // no play is never a proposal
		v.Sentence = b.say("%s: %s mm, and the box can't reach the limits: its nearest stack, %s mm, would leave no play "+
			"at all. It needs a %s mm shim.", state, b.n(now.BacklashMM), b.n(next), b.n(want))
		v.Stack = nil
		return nil
	}
	spread := say.Round(2*math.Hypot(l.Sigma*step, b.RepeatMM/math.Sqrt(float64(len(last.Readings)))), 4)
	v.NextMM, v.ExpectedMM, v.SpreadMM = &next, &expected, &spread
	way := "away from"
	if (step > 0) == (b.Thicker == "toward") {
		way = "toward"
	}
	v.Sentence = b.say("%s: %s mm. Move the %s %s mm %s its mesh: a shim of %s mm instead of %s. Expected %s ± %s mm.", state, b.n(now.BacklashMM), b.Gear,
		b.n(math.Abs(step)), way, b.n(next), b.n(last.ShimMM), b.n(expected), b.n(spread))
	if short := backlash.Shortfall(expected, b.LowMM, b.HighMM, b.n, b.say(" mm")[1:]); short != "" {
		v.Sentence += " " + short
	} else if expected < backlash.LeastUsual {
		v.Sentence += b.say(" That is less than gears usually have (%s mm): look at the limits' unit before you fit it.",
			b.n(backlash.LeastUsual))
	}
	return nil
}

// measured is an assembly at the teeth.
func (b *Backlash) measured(a Assembly) Measured {
	k := 1.0
	if b.ArmMM > 0 {
		k = b.PitchMM / b.ArmMM
	}
	m := Measured{ShimMM: a.ShimMM, LeastMM: math.Inf(1)}
	for _, r := range a.Readings {
		m.BacklashMM += r * k / float64(len(a.Readings))
		m.LeastMM, m.GreatestMM = math.Min(m.LeastMM, r*k), math.Max(m.GreatestMM, r*k)
	}
	m.BacklashMM, m.LeastMM, m.GreatestMM = say.Round(m.BacklashMM, 4), say.Round(m.LeastMM, 4), say.Round(m.GreatestMM, 4)
	switch {
	case m.BacklashMM < b.LowMM:
		m.State = "tight"
	case m.BacklashMM > b.HighMM:
		m.State = "loose"
	default:
		m.State = "in"
	}
	m.Text = b.measuredText(m)
	if b.ArmMM > 0 {
		m.Text += b.dialFormula()
	}
	return m
}

// warn tells what no sum shows by itself.
func (b *Backlash) warn(v *Verdict, now Measured, l backlash.Learned, trials []backlash.Trial) {
	if now.LeastMM <= b.RepeatMM {
		v.Warnings = append(v.Warnings, b.noPlay())
	}
	if l.Flipped {
		return
	}
	if !l.ByLaw && (math.Abs(l.Slope) < 0.4*v.Law || math.Abs(l.Slope) > 2*v.Law) {
		v.Warnings = append(v.Warnings, unlikeTeeth(l, v))
	}
	n := len(trials)
	if n >= 2 && trials[n-1].ShimMM != trials[n-2].ShimMM && math.Abs(trials[n-1].BacklashMM-trials[n-2].BacklashMM) < b.RepeatMM/2 {
		v.Warnings = append(v.Warnings, "The last shim changed nothing that the gauge could see: is it under this gear?")
	}
}

// believed is what is taken of such cases before the first move.
func (b *Backlash) believed() backlash.Housings {
	if b.Housings != nil {
		return *b.Housings
	}
	return backlash.ByLaw(backlash.LawSigma)
}

func (b *Backlash) learn(believed backlash.Housings, trials []backlash.Trial) backlash.Learned {
	sign := 1
	if b.Thicker == "toward" {
		sign = -1
	}
	return backlash.Learn(b.Mesh.Sensitivity(), believed, sign, trials, b.RepeatMM)
}

// Taught is what the moves of a case say of its sensitivity, whatever was believed; not
// ok where they say little or can't be read.
func Taught(b Backlash) (s backlash.Sample, ok bool) {
	if fault.Figures(b) != nil || b.check() != nil {
		return s, false
	}
	var trials []backlash.Trial
	for _, a := range b.Assemblies {
		trials = append(trials, backlash.Trial{ShimMM: a.ShimMM, BacklashMM: b.measured(a).BacklashMM})
	}
	law, before := b.Mesh.Sensitivity(), backlash.ByLaw(backlash.LawSigma)
	l := b.learn(before, trials)
	if l.ByLaw || l.Flipped {
		return s, false
	}
	return backlash.Taught(before, math.Abs(l.Slope)/law, l.Sigma/law)
}
