package setup

import (
	"fmt"
	"math"
	"strings"

	"zorvel/core/say"
)

// States of a set-up.
const (
	StateAsk  = "ask"  // something has to be looked at or entered first
	StateCure = "cure" // no shim cures it
	StateMove = "move" // the next move is known
	StateGood = "good"
)

// Check is one figure against its band.
type Check struct {
	ID    string `json:"id"`
	Name  string `json:"name"`
	State string `json:"state"` // in, low, high or left_out
	Value string `json:"value,omitempty"`
	Band  string `json:"band,omitempty"`
	From  string `json:"from,omitempty"` // the maker's source
	Text  string `json:"text"`
}

// Result is one trial as it came out.
type Result struct {
	PinionMM float64  `json:"pinion_mm"`
	LeftMM   float64  `json:"left_mm"`
	RightMM  float64  `json:"right_mm"`
	Backlash *Around  `json:"backlash,omitempty"`
	BackFace *Around  `json:"back_face,omitempty"`
	Torque   *Torque  `json:"torque,omitempty"` // pinion, without the seal's drag
	Total    *Torque  `json:"total,omitempty"`
	Carrier  *Torque  `json:"carrier,omitempty"` // its drag, at the carrier
	DepthMM  *float64 `json:"depth_mm,omitempty"`
	Height   *float64 `json:"height,omitempty"`
	Length   *float64 `json:"length,omitempty"`
	Aside    string   `json:"aside,omitempty"` // why it teaches nothing
	Told     []string `json:"told"`
}

// Verdict says how the newest trial stands and what to do next.
type Verdict struct {
	State    string   `json:"state"`
	Sentence string   `json:"sentence"`
	More     []string `json:"more"` // what goes with it
	Asks     []string `json:"asks"`
	Checks   []Check  `json:"checks"`
	Results  []Result `json:"results"`
	Next     *Move    `json:"next,omitempty"`
	Laws     []Law    `json:"laws"`
	Figures  []Band   `json:"figures"`
	Kinds    []Kind   `json:"kinds"`
	Cautions []string `json:"cautions"`
	// Doubted is the trial that does not go with the others, from 1; 0 for none.
	Doubted int `json:"doubted"`
	inches  bool
}

var cautions = []string{
	"The maker's figures decide; what is marked typical only says where to begin.",
	"A carrier is heavy and its bearings are spread: hands out from between, lift it straight.",
	"Turn it by hand before any power: no shim may be left over, no tool inside.",
}

// Judge says how a ring and pinion stands after its trials, and what to move
// next. Faults are fault.Errors with paths within the question.
func Judge(q Axle) (*Verdict, error) {
	trials, s, seal, err := q.check()
	if err != nil {
		return nil, err
	}
	var box []Shim
	if strings.TrimSpace(q.Box) != "" {
		if box, err = ParseBox(q.Box); err != nil {
			return nil, err
		}
	}
	v := &Verdict{More: []string{}, Asks: s.asks, Checks: []Check{}, Results: []Result{}, Figures: []Band{}, Kinds: Kinds(), Cautions: cautions}
	if v.Asks == nil {
		v.Asks = []string{}
	}
	for _, k := range v.Kinds {
		if b, ok := s.bands[k.ID]; ok {
			v.Figures = append(v.Figures, b)
		}
	}
	d := q.doubts(trials)
	v.Doubted, v.inches = d.trial+1, q.Unit == Inches
	skip := -1
	if d.trial >= 0 && d.trial < len(trials)-1 {
		skip = d.trial
	}
	h := q.house(trials, skip)
	v.Laws = q.laws(h)
	for i, t := range trials {
		v.Results = append(v.Results, q.result(t, seal))
		if i == skip {
			v.Results[i].Aside = "it doesn't go with the others"
		}
	}
	now, last := trials[len(trials)-1], &v.Results[len(trials)-1]
	depthOff := q.depthOff(now, s)
	q.checks(v, s, now, last, depthOff)
	if skip >= 0 {
		v.Asks = append(v.Asks, d.text+" It teaches nothing until then.")
	}
	return v, q.decide(v, s, h, now, last, d, depthOff, box)
}

func (q *Axle) result(t read, seal *Torque) Result {
	r := Result{PinionMM: t.pinion.MM, LeftMM: t.left.MM, RightMM: t.right.MM, Backlash: t.lash, BackFace: t.face, DepthMM: t.depth, Height: t.height, Length: t.length, Told: t.told}
	if r.Told == nil {
		r.Told = []string{}
	}
	bare := func(p *Torque) *Torque {
		if p == nil || seal == nil {
			return p
		}
		net := say.Round(math.Max(0, p.NM-seal.NM), 5)
		return &Torque{net, fmt.Sprintf("%s − %s N·m of the seal = %s N·m", p.Text, say.Trim(seal.NM, 3), say.Trim(net, 3))}
	}
	r.Torque, r.Total = bare(t.pinionNM), bare(t.totalNM)
	if r.Torque != nil && r.Total != nil {
		ratio := float64(q.Ring) / float64(q.Pinion)
		drag := say.Round((r.Total.NM-r.Torque.NM)*ratio, 5)
		r.Carrier = &Torque{drag, fmt.Sprintf("(%s − %s) · %d/%d = %s N·m at the carrier", say.Trim(r.Total.NM, 3), say.Trim(r.Torque.NM, 3), q.Ring, q.Pinion, say.Trim(drag, 3))}
	}
	return r
}

// depthOff is how much too far from the ring's axis the pinion was measured.
func (q *Axle) depthOff(t read, s sheet) *float64 {
	b, ok := s.bands[FigureDepth]
	if !ok || t.depth == nil {
		return nil
	}
	mark := 0.0
	if q.DepthMark != "" {
		mark, _, _ = length(plain(q.DepthMark), q.Unit)
	}
	off := say.Round(*t.depth-b.High-mark, 4)
	return &off
}

// checks holds the newest trial against every band; what can't be held is left
// out in sight.
func (q *Axle) checks(v *Verdict, s sheet, t read, r *Result, depthOff *float64) {
	add := func(figure, name string, value *float64, text string) {
		b, known := s.bands[figure]
		c := Check{ID: figure, Name: name, State: "left_out"}
		if value != nil {
			c.Value = text
		}
		switch {
		case s.left[figure] != "":
			c.Text = s.left[figure]
		case !known && value == nil:
			c.Text = "not measured, and the maker's figure is not entered"
		case !known:
			c.Text = "the maker's figure is not entered"
		case value == nil:
			c.Text = "not measured"
		}
		if known {
			c.Band, c.From = q.band(b), b.From
			if value != nil {
				c.State = place(*value, b.Low, b.High)
				c.Text = map[string]string{"in": "within the band", "low": "below the band", "high": "above the band"}[c.State]
				if b.Low == 0 && c.State == "in" {
					c.Text = "within the limit"
				} else if b.Low == 0 {
					c.Text = "above the limit"
				}
			}
		}
		v.Checks = append(v.Checks, c)
	}
	pinion, total := FigurePinionNew, FigureTotalNew
	if q.Bearings == "used" {
		pinion, total = FigurePinionUsed, FigureTotalUsed
	}
	nm := func(t *Torque) (*float64, string) {
		if t == nil {
			return nil, ""
		}
		return &t.NM, t.Text
	}
	p, words := nm(r.Torque)
	add(pinion, "Pinion rotating torque", p, words)
	v.Checks = append(v.Checks, q.patternCheck(t), q.depthCheck(s, depthOff))
	if a := t.lash; a != nil {
		spread := a.GreatestMM - a.LeastMM
		add(FigureBacklash, "Backlash", &a.MeanMM, q.say("%s mm, from %s to %s at %d places", q.n(a.MeanMM), q.n(a.LeastMM), q.n(a.GreatestMM), a.Counted))
		c := &v.Checks[len(v.Checks)-1]
		if b, ok := s.bands[FigureBacklash]; ok && c.State == "in" && (a.LeastMM < b.Low || a.GreatestMM > b.High) {
			c.State, c.Text = place(a.LeastMM, b.Low, b.High), "its mean lies within the band, but not every place"
			if c.State == "in" {
				c.State = "high"
			}
		}
		if a.Counted < 3 {
			c.Text += "; three places at least, better eight"
		}
		add(FigureDifference, "Difference between places", &spread, q.say("%s mm", q.n(spread)))
	} else {
		add(FigureBacklash, "Backlash", nil, "")
		add(FigureDifference, "Difference between places", nil, "")
	}
	p, words = nm(r.Total)
	add(total, "Total rotating torque", p, words)
	if f := t.face; f != nil {
		swing := f.GreatestMM - f.LeastMM
		add(FigureBackFace, "Run-out of the ring's back face", &swing, q.say("%s mm", q.n(swing)))
	} else {
		add(FigureBackFace, "Run-out of the ring's back face", nil, "")
	}
}

func place(v, low, high float64) string {
	const hair = 1e-9
	switch {
	case v < low-hair:
		return "low"
	case v > high+hair:
		return "high"
	}
	return "in"
}

func (q *Axle) patternCheck(t read) Check {
	c := Check{ID: "pattern", Name: "Contact pattern", State: "left_out", Text: "not taken", Band: fmt.Sprintf("within %s of mid height (typical)", say.Trim(heightBand, 2))}
	if t.height == nil {
		return c
	}
	c.Value = fmt.Sprintf("height %s, length %s", say.Signed(*t.height, 2), say.Signed(*t.length, 2))
	switch {
	case *t.height > heightBand:
		c.State, c.Text = "high", "toward the tip (face): the pinion is too far out"
	case *t.height < -heightBand:
		c.State, c.Text = "low", "toward the root (flank): the pinion is too deep"
	default:
		c.State, c.Text = "in", "at mid height"
		if math.Abs(*t.length) > lengthBand {
			c.Text += ", toward the " + end(*t.length)
		}
	}
	return c
}

func (q *Axle) depthCheck(s sheet, off *float64) Check {
	c := Check{ID: FigureDepth, Name: "Pinion depth by gauge", State: "left_out", Text: "not measured, or the maker's figure is not entered"}
	b, ok := s.bands[FigureDepth]
	if !ok {
		return c
	}
	c.Band, c.From = q.band(b), b.From
	if q.DepthMark != "" {
		c.Band += " and the mark " + strings.TrimSpace(q.DepthMark)
	}
	if off == nil {
		c.Text = "not measured"
		return c
	}
	c.Value = q.say("%s mm off", q.signed(*off))
	switch {
	case *off > 2*q.RepeatMM:
		c.State, c.Text = "high", "too far from the ring's axis; the pattern decides"
	case *off < -2*q.RepeatMM:
		c.State, c.Text = "low", "too near the ring's axis; the pattern decides"
	default:
		c.State, c.Text = "in", "as near as the gauge repeats"
	}
	return c
}

// decide says the one sentence, and finds the next move where there is one.
func (q *Axle) decide(v *Verdict, s sheet, h house, t read, r *Result, d doubt, depthOff *float64, box []Shim) error {
	state := func(id string) string {
		for _, c := range v.Checks {
			if c.ID == id {
				return c.State
			}
		}
		return "left_out"
	}
	band, hasBand := s.bands[FigureBacklash]
	if d.trial == len(q.Trials)-1 {
		v.State, v.Sentence = StateAsk, d.text
		return nil
	}
	if text := q.incurable(&q.Trials[len(q.Trials)-1], t, h); text != "" {
		v.State, v.Sentence = StateCure, text
		return nil
	}
	if state(FigureDifference) == "high" || state(FigureBackFace) == "high" {
		v.State = StateCure
		v.Sentence = q.runout(h, t)
		return nil
	}
	preload := q.preload(v)
	var use *Band
	if hasBand {
		use = &band
	}
	a := q.aimAt(h, t, use, depthOff)
	m, err := q.next(h, t, a, box)
	if err != nil {
		return err
	}
	m.Preload = preload
	if a.capped {
		v.More = append(v.More, fmt.Sprintf("By the figures it would be more than %s mm; not more at once.", say.Trim(mostMove, 1)))
	}
	if a.goodEdge != "" {
		v.More = append(v.More, a.goodEdge)
	}
	if o := t.lash; o != nil && o.OddPlace > 0 {
		v.More = append(v.More, q.say("Place %d stands out by %s mm from the rest: read it again, and look for a burr or a chip there.", o.OddPlace, q.signed(o.OddMM)))
	}
	if o := t.lash; o != nil && o.Once != nil && o.Once.Seen && state(FigureDifference) != "high" {
		v.More = append(v.More, q.say("Once per turn the backlash swings %s ± %s mm, most at %s°.", q.n(2*o.Once.AmplitudeMM), q.n(4*o.Once.SigmaMM), say.Trim(o.Once.AtDeg, 0)))
	}
	if t.lash != nil && t.lash.LeastMM <= q.RepeatMM {
		v.More = append(v.More, "No play at all at some place: warm, with oil, it binds and breaks. Never run it so.")
	}
	switch {
	case len(m.Changes) > 0 || len(preload) > 0:
		v.State, v.Next = StateMove, m
		v.Sentence = strings.TrimSpace(strings.Join(preload, " ") + " " + m.Text)
		for _, short := range []string{m.depthShort, m.Short} {
			if short != "" {
				v.More = append(v.More, short)
			}
		}
	case m.Short != "":
		v.State, v.Next, v.Sentence = StateAsk, m, strings.TrimSpace(m.Short)
	case !hasBand:
		v.State, v.Sentence = StateAsk, "Enter the maker's band of backlash: without it nothing says where the ring belongs."
		if s.left[FigureBacklash] != "" {
			v.Sentence = s.left[FigureBacklash]
		}
	case t.lash == nil:
		v.State, v.Sentence = StateAsk, "Measure the backlash: three places at least, better eight."
	case t.height == nil:
		v.State, v.Sentence = StateAsk, q.say("Backlash %s mm is within its band. Take the pattern before it is called good.", q.n(t.lash.MeanMM))
	default:
		q.good(v, s, h, t, m, band, state)
	}
	return nil
}

// good says that it is done, or what ends it otherwise.
func (q *Axle) good(v *Verdict, s sheet, h house, t read, m *Move, band Band, state func(string) string) {
	rest := shrunk((band.Low+band.High)/2-t.lash.MeanMM, h.lash.mean[1], h.lash.sigma(1))
	fine := ""
	if math.Abs(h.lash.mean[1]*rest) < q.RepeatMM {
		fine = "; the next step would be finer than the gauge"
	}
	pattern := "the pattern at mid height"
	if state("pattern") != "in" {
		pattern = "the pattern as near to mid height as these shims bring it"
	}
	if state(FigureBacklash) == "in" {
		v.State = StateGood
		v.Sentence = q.say("Good: backlash %s mm, everywhere within %s, %s%s.", q.n(t.lash.MeanMM), q.band(band), pattern, fine)
	} else {
		v.State = StateAsk
		v.Sentence = fmt.Sprintf("By all trials the mean lies well within %s, yet not every place does. Read the places again, the ring pushed the same way each time; what stays is run-out.", q.band(band))
	}
	var left []string
	for _, c := range v.Checks {
		if c.State == "left_out" && c.ID != FigureDepth {
			left = append(left, say.Small(c.Name)+" ("+c.Text+")")
		}
	}
	if v.State == StateGood && len(left) > 0 {
		v.More = append(v.More, "Not checked: "+strings.Join(left, "; ")+".")
	}
	if v.State == StateGood && s.asks != nil {
		v.More = append(v.More, "What is asked below is still open.")
	}
}

// incurable names what no shim cures.
func (q *Axle) incurable(m *Made, t read, h house) string {
	switch m.Mark {
	case "two_spots":
		return "No move cures this: a pattern in two spots is a worn or a mismatched pair. Compare the numbers etched on both; renew them together."
	case "varies":
		return "No move cures this: the pattern changes around the ring. Find the run-out first: dirt under the ring, a bent flange, a bad bearing."
	case "edge_line":
		return "No move cures this: a hard line along an edge is a damaged or a mismatched tooth. Look at every tooth before another shim."
	}
	if m.Drive != nil && m.Coast != nil {
		if d := math.Abs(m.Drive.Height - m.Coast.Height); d > 0.8 {
			return "No move cures this: drive and coast stand at different heights, and the pinion moves both to the same. Wrong pair, a bent housing or a worn flank; read both again first."
		}
		if d := math.Abs(m.Drive.Length - m.Coast.Length); d > 1 && math.Abs(*t.height) <= heightBand {
			return "No move cures this: at the right height drive and coast lie at opposite ends, so the axes don't cross as they were cut. A bent housing, a wrong bearing seat or a wrong pair."
		}
	}
	if h.heights > 2 && h.height.mean[1] < heightPerMM/8 && h.height.sigma(1) < heightPerMM/8 {
		return "The depth shims changed and the pattern hardly did: are they behind the pinion's own bearing, and is it pressed home?"
	}
	return ""
}

// runout says how much, where, and what it comes from.
func (q *Axle) runout(h house, t read) string {
	if t.lash == nil || t.lash.Once == nil {
		if t.face != nil {
			return q.say("No shim cures this: the ring's back face runs out by %s mm. Take the ring off, clean it and its flange, look for a burr; then measure the bare flange.", q.n(t.face.GreatestMM-t.face.LeastMM))
		}
		return "No shim cures this: the backlash differs too much around the ring. Read eight places from one mark, and the ring's back face from the same mark, to tell dirt from a bad ring."
	}
	o := t.lash.Once
	if t.lash.OddPlace > 0 {
		return q.say("No shim cures this: place %d stands out by %s mm from what the others make of it. Read it again, then look at the teeth there.", t.lash.OddPlace, q.signed(t.lash.OddMM))
	}
	head := q.say("No shim cures this: once per turn the backlash swings %s mm, most at %s° from the mark.", q.n(2*o.AmplitudeMM), say.Trim(o.AtDeg, 0))
	if !o.Seen {
		return "No shim cures this: the backlash differs too much from place to place, and not once per turn. Read the places again with the ring pushed the same way each time; then look at the teeth one by one."
	}
	if t.face == nil || t.face.Once == nil {
		return head + " Dirt under the ring or a bad ring? Read its back face at the same places."
	}
	// What the face does makes backlash by the law; as far as it goes along
	// with what is seen, dirt or a burr under the ring explains it.
	f := t.face.Once
	angle := (f.AtDeg - o.AtDeg) * math.Pi / 180
	along := f.AmplitudeMM * h.lash.mean[1] * math.Abs(math.Cos(angle)) / o.AmplitudeMM
	switch {
	case !f.Seen || along < 0.35:
		return head + q.say(" Its back face runs true (%s mm): it is the ring's teeth or the bearings, not dirt.", q.n(2*f.AmplitudeMM))
	case along > 0.65:
		return head + q.say(" The back face goes along with it (%s mm at %s°): dirt or a burr under the ring, or a bent flange. Take it off, clean both faces, measure the bare flange.", q.n(2*f.AmplitudeMM), say.Trim(f.AtDeg, 0))
	}
	return head + q.say(" The back face explains a part of it (%s mm at %s°): clean under the ring first, then measure again.", q.n(2*f.AmplitudeMM), say.Trim(f.AtDeg, 0))
}

// preload says what to do about rotating torques; they come before the pattern
// means anything.
func (q *Axle) preload(v *Verdict) []string {
	out := []string{}
	for _, c := range v.Checks {
		switch c.ID + " " + c.State {
		case FigurePinionNew + " low", FigurePinionUsed + " low":
			if q.Spacing == "crush" {
				out = append(out, "Pinion preload too low: tighten the nut a little farther and measure often; once past the band the sleeve is done.")
			} else {
				out = append(out, "Pinion preload too low: a thinner shim between the bearings."+q.spacerStep(v))
			}
		case FigurePinionNew + " high", FigurePinionUsed + " high":
			if q.Spacing == "crush" {
				out = append(out, "Pinion preload too high: the crush sleeve was overshot. A new sleeve; never back the nut off.")
			} else {
				out = append(out, "Pinion preload too high: a thicker shim between the bearings."+q.spacerStep(v))
			}
		case FigureTotalNew + " low", FigureTotalUsed + " low":
			out = append(out, "Carrier preload too low: both side stacks thicker by the same amount, so that the ring stays.")
		case FigureTotalNew + " high", FigureTotalUsed + " high":
			out = append(out, "Carrier preload too high: both side stacks thinner by the same amount, so that the ring stays.")
		}
	}
	return out
}

// spacerStep says how much by what two trials taught; nothing where they
// didn't.
func (q *Axle) spacerStep(v *Verdict) string {
	n := len(v.Results)
	band := Band{}
	for _, f := range v.Figures {
		if f.Figure == FigurePinionNew && q.Bearings == "new" || f.Figure == FigurePinionUsed && q.Bearings == "used" {
			band = f
		}
	}
	now := v.Results[n-1]
	b, problem := ParsePile(q.Trials[n-1].Spacer, q.Unit)
	if problem != "" || now.Torque == nil {
		return ""
	}
	for i := n - 2; i >= 0; i-- {
		was := v.Results[i]
		a, problem := ParsePile(q.Trials[i].Spacer, q.Unit)
		if problem != "" || was.Torque == nil || math.Abs(a.MM-b.MM) < 0.005 {
			continue
		}
		slope := (now.Torque.NM - was.Torque.NM) / (b.MM - a.MM)
		if slope > -0.1 { // thicker must turn easier; else it teaches nothing
			return ""
		}
		want := b.MM + ((band.Low+band.High)/2-now.Torque.NM)/slope
		return fmt.Sprintf(" By trial %d and now, %s N·m per 0.01 mm: about %s mm instead of %s.", i+1, say.Trim(-slope/100, 3), say.Trim(math.Max(0, want), 2), say.Trim(b.MM, 3))
	}
	return ""
}
