package live

import (
	"fmt"
	"strings"

	"zorvel/core/say"
)

var shaftNames = map[Shaft]string{Input: "input shaft", Left: "left wheel", Right: "right wheel", Output: "output"}

// name of a shaft; an axle's input is its driveshaft.
func (m *machine) name(s Shaft) string {
	if s == Input && m.axle() {
		return "driveshaft"
	}
	return shaftNames[s]
}

var troubleWords = map[Trouble]string{
	InputSilent: "The %s sensor stopped while the others went on. Only the turns before that count. Check its mark and its wire.",
	LeftSilent: "The left wheel's sensor stopped, but the driveshaft shows that the wheel still turned. " +
		"Turns after that don't count.",
	RightSilent: "The right wheel's sensor stopped, but the driveshaft shows that the wheel still turned. " +
		"Turns after that don't count.",
	OutputSilent: "The output's sensor stopped while the input went on. Only the turns before that count.",
	Swapped:      "The driveshaft turned less than the wheels. Are two sensors swapped?",
	Unsteady:     "Too many marks are missing or seen twice to trust a ratio. Move the sensor closer, clean the marks, count again.",
	NoInput:      "No marks from the %s yet.",
	NoOutput:     "No marks from a wheel or the output yet.",
	Opposite:     "The wheels turn against each other, so the driveshaft hardly moves. Hold one wheel, or turn both the same way.",
}

var conditionWords = map[Condition]string{
	LeftStill:  "Good only if the left wheel did not turn: its sensor gave no marks, and a dead sensor gives none either.",
	RightStill: "Good only if the right wheel did not turn: its sensor gave no marks, and a dead sensor gives none either.",
	OtherDid:   "Good only if the wheel without a sensor did what you entered.",
	OneWay:     "Good only if nobody turned back: these sensors don't tell direction.",
}

// tell puts the answer into words.
func (a *Answer) tell(m *machine) {
	for _, t := range a.Troubles {
		w := troubleWords[t]
		if strings.Contains(w, "%s") {
			w = fmt.Sprintf(w, m.name(Input))
		}
		a.Notes = append(a.Notes, w)
	}
	r := a.Ratio
	if r == nil {
		a.Sentence = "No ratio yet."
		if len(a.Troubles) == 0 {
			a.Sentence = "No ratio yet. Keep turning: each side needs two marks."
		}
		return
	}
	for _, c := range r.Conditions {
		a.Notes = append(a.Notes, conditionWords[c])
	}
	about := "About " + say.Trim(r.Best, digits(r.High-r.Low))
	if r.Events == 0 {
		about = "Between"
		a.Sentence = fmt.Sprintf("%s %s and %s so far.", about, say.Trim(r.Low, 2), say.Trim(r.High, 2))
		return
	}
	n := digits(r.High - r.Low)
	a.Sentence = fmt.Sprintf("%s (%s to %s) after %s.", about, say.Trim(r.Low, n), say.Trim(r.High, n), m.turnsOf(r))
}

// turnsOf says how far the output was turned, by what a person turned.
func (m *machine) turnsOf(r *Ratio) string {
	moving, _ := m.moving()
	turns := say.Trim(r.Output/moving.share, 1)
	switch {
	case len(moving.paths) == 2:
		return say.Trim(r.Output, 1) + " turns of both wheels"
	case m.axle() && moving.share == 1:
		return turns + " turns of both wheels"
	case len(moving.paths) == 1:
		return turns + " turns of the " + m.name(moving.paths[0].shaft)
	}
	return turns + " turns"
}

// digits that a range carries.
func digits(width float64) int {
	switch {
	case width < 0.02:
		return 3
	case width < 0.5:
		return 2
	}
	return 1
}

// origin explains the ratio, line by line.
func (r *Ratio) origin(m *machine, f fitted) []string {
	if r.Events == 0 {
		return []string{
			"marks seen: c of m a turn mean between (c − 1) ÷ m and (c + 1) ÷ m turns",
			fmt.Sprintf("least = input at least ÷ output at most = %s, most = input at most ÷ output at least = %s",
				say.Trim(r.Low, 3), say.Trim(r.High, 3)),
		}
	}
	out := []string{fmt.Sprintf("%d moments from %s s to %s s at which a mark passed and the other shafts were known",
		r.Events, say.Trim(r.From, 1), say.Trim(r.To, 1))}
	if m.axle() && len(m.wheels) == 2 {
		out = append(out, "output turns = (left + right) ÷ 2")
	}
	if f.missed+f.doubled+f.outMissed+f.outDoubled > 0 {
		out = append(out, fmt.Sprintf("marks corrected by the other shaft: %d missed, %d seen twice",
			f.missed+f.outMissed, f.doubled+f.outDoubled))
	}
	if f.breaks > 0 {
		out = append(out, fmt.Sprintf("%d places where the shafts don't follow each other: the turns before and after count, the jump doesn't",
			f.breaks))
	}
	return append(out,
		fmt.Sprintf("ratio = slope of input turns over output turns = %s, standard deviation %s", say.Trim(r.Best, 4),
			say.Trim(f.sigma, 4)))
}

// words tells a count in one sentence.
func (p *path) words(c Count) string {
	switch {
	case len(p.times) == 0:
		return "Nothing yet."
	case p.step == 0:
		return fmt.Sprintf("%s turns (%s to %s).", say.Trim(c.Turns, 3), say.Trim(c.Low, 3), say.Trim(c.High, 3))
	}
	s := fmt.Sprintf("%s, %s turns from first to last. Between %s and %s in all.",
		plural(c.Pulses-c.Doubled, "mark", "marks"), say.Trim(c.Turns, 3), say.Trim(c.Low, 3), say.Trim(c.High, 3))
	if c.Doubled > 0 {
		s += " " + plural(c.Doubled, "mark", "marks") + " seen twice, counted once."
	}
	if c.Missed > 0 {
		s += " " + plural(c.Missed, "mark seems", "marks seem") + " to be missing."
	}
	return s
}

func plural(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}
