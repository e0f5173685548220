package setup

import (
	"fmt"
	"math"
	"strings"

	"zorvel/core/backlash"
	"zorvel/core/fault"
	"zorvel/core/say"
	"zorvel/core/shim"
	"zorvel/core/typed"
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
	// FirstLook: no shims are named yet; moves are told without stacks.
	FirstLook bool `json:"first_look"`
	inches    bool
}

var cautions = []string{
	"The maker's figures decide; figures marked typical are only a starting point.",
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
	if err := fault.Figures(q); err != nil {
		return nil, err
	}
	var box []shim.Shim
	if strings.TrimSpace(q.Box) != "" && !q.firstLook() {
		if box, err = shim.ParseBox(q.Box, q.Unit); err != nil {
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
	v.Doubted, v.inches, v.FirstLook = d.trial+1, q.Unit == typed.Inches, q.firstLook()
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
	if q.firstLook() {
		r.PinionMM, r.LeftMM, r.RightMM = 0, 0, 0
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
				c.Text = map[string]string{"in": "within the range", "low": "below the range", "high": "above the range"}[c.State]
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
			c.State, c.Text = place(a.LeastMM, b.Low, b.High), "its mean is within the range, but not every place"
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
		c.State, c.Text = "high", "toward the face: the pinion is too far out"
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
func (q *Axle) decide(v *Verdict, s sheet, h house, t read, r *Result, d doubt, depthOff *float64, box []shim.Shim) error {
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
	if text := q.otherSize(t, band, hasBand); text != "" {
		v.State, v.Sentence = StateAsk, text
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
		v.More = append(v.More, notMoreAtOnce())
	}
	if a.goodEdge != "" {
		v.More = append(v.More, a.goodEdge)
	}
	if o := t.lash; o != nil && o.OddPlace > 0 {
		v.More = append(v.More, q.placeOff(o))
	}
	if o := t.lash; o != nil && o.Once != nil && o.Once.Seen && state(FigureDifference) != "high" {
		v.More = append(v.More, q.swings(o))
	}
	if t.lash != nil && t.lash.LeastMM <= q.RepeatMM {
		v.More = append(v.More, "No play at all at some place: warm, with oil, it binds and breaks. Never run it so.")
	}
	switch {
	case m.Head != "" || len(preload) > 0:
		v.State, v.Next = StateMove, m
		v.Sentence = strings.Join(strings.Fields(strings.Join(preload, " ")+" "+m.Text+" "+m.depthShort+" "+m.Short), " ")
		if m.BacklashMM != nil && hasBand && (m.depthShort+m.Short) == "" && m.Head != "" {
			v.Sentence = strings.TrimSpace(v.Sentence + " " + backlash.Shortfall(m.BacklashMM.Value, band.Low, band.High, q.n, q.say(" mm")[1:]))
		}
	case m.depthShort != "" && m.Short == "":
		v.State, v.Next, v.Sentence = StateAsk, m, m.depthShort
	case m.Short != "":
		v.State, v.Next, v.Sentence = StateAsk, m, strings.TrimSpace(m.Short)
	case !hasBand:
		v.State, v.Sentence = StateAsk, "Enter the maker's backlash range: without it nothing shows where the ring gear belongs."
		if s.left[FigureBacklash] != "" {
			v.Sentence = s.left[FigureBacklash]
		}
	case t.lash == nil:
		v.State, v.Sentence = StateAsk, "Measure the backlash: three places at least, better eight."
	case t.height == nil:
		v.State, v.Sentence = StateAsk,
			q.checkPattern(t)
	default:
		q.good(v, s, h, t, m, band, state)
	}
	return nil
}

// good says that it is done, or what ends it otherwise.
func (q *Axle) good(v *Verdict, s sheet, h house, t read, m *Move, band Band, state func(string) string) {
	rest := shrunk((band.Low+band.High)/2-t.lash.MeanMM, h.lash.Mean(1), h.lash.Sigma(1))
	fine := ""
	if math.Abs(h.lash.Mean(1)*rest) < q.RepeatMM {
		fine = "; the next step would be finer than the gauge"
	}
	pattern := "the pattern at mid height"
	if state("pattern") != "in" {
		pattern = "the pattern as near to mid height as these shims bring it"
	}
	if state(FigureBacklash) == "in" {
		v.State = StateGood
		v.Sentence = q.goodSentence(t, band, pattern, fine)
	} else {
		v.State = StateAsk
		v.Sentence = q.meanOnly(band)
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
