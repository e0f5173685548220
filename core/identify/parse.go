package identify

import (
	"fmt"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/typed"
)

// Mark is one way to read a tag or stamp.
type Mark struct {
	// Counts, in the order of the construction's Teeth, or nil.
	Counts       []int
	Construction string
	// Value scaled by 10^Places when the text is a ratio.
	Value  int64
	Places int
	// Plausible is false where the reading is possible but unusual for
	// the stage.
	Plausible bool
	// style is how often a ratio, or counts, are written as the text is,
	// relative to the plain way.
	style float64
}

// IsRatio reports whether the mark was read as a ratio and not as counts.
func (m Mark) IsRatio() bool { return m.Counts == nil }

// Canonical is text that reads as this mark only: "47/9" or "5.22".
func (m Mark) Canonical() string {
	if m.IsRatio() {
		return strconv.FormatFloat(m.value(), 'f', m.Places, 64)
	}
	return fmt.Sprintf("%d/%d", m.Counts[0], m.Counts[1])
}

func (m Mark) value() float64 { return float64(m.Value) / math.Pow10(m.Places) }

// maxText is the longest tag, stamp or phrase that is read.
const maxText = 80

var (
	digitGroup = regexp.MustCompile(`\d+`)
	letters    = regexp.MustCompile(`\pL+`)
)

// markWords may stand around the numbers of a tag or stamp.
var markWords = map[string]bool{
	"r": true, "p": true, "t": true, "x": true, "z": true, "ring": true, "pinion": true, "gear": true, "gears": true, "teeth": true,
	"ratio": true, "to": true, "by": true, "tag": true, "no": true, "sun": true, "and": true,
	// what else is written beside a ratio
	"ls": true, "lsd": true, "limited": true, "slip": true, "lock": true, "locker": true, "open": true, "axle": true, "final": true, "drive": true,
}

// ParseMark reads what a tag or stamp says: both tooth counts in either order
// with any separator or none, or a ratio with or without its point, in digits
// or in words. It returns every reading that could be meant, usual ones first,
// or an *Error on field "text".
func ParseMark(text string, s Stage) ([]Mark, error) {
	cons, err := s.Constructions()
	if err != nil {
		return nil, err
	}
	if len(text) > maxText {
		return nil, fault.New("text", "at most %d characters: only the numbers on the part", maxText)
	}
	p := markReader{stage: s, cons: cons}
	p.read(typed.Plain(text))
	marks := p.usual
	if len(marks) == 0 || p.both {
		marks = append(marks, p.odd...)
	}
	if len(marks) == 0 {
		return nil, fault.New("text", "%q gives neither two tooth counts nor a ratio; type what is stamped, for example 47 9, 9-47, 5.22 or 522", text)
	}
	return marks, nil
}

var (
	// "4.11 to one" and "one to 4.11": the one is no count.
	toOne    = regexp.MustCompile(`^(.*?)\s*(?::|to|in)\s*(?:1(?:[.,]0+)?|one)$`)
	oneTo    = regexp.MustCompile(`^(?:1|one)\s*(?::|to|in)\s*(.+)$`)
	bareInt  = regexp.MustCompile(`^\d{1,2}$`)
	hasPoint = regexp.MustCompile(`^\d+[.,]\d+$|[a-z]`)
)

// read finds the meanings of a mark in plain writing.
func (p *markReader) read(t string) {
	if m := toOne.FindStringSubmatch(t); m != nil && m[1] != "" {
		if bareInt.MatchString(m[1]) {
			p.ratio(m[1], 0, 1)
			return
		}
		t = m[1]
	} else if m := oneTo.FindStringSubmatch(t); m != nil && hasPoint.MatchString(m[1]) {
		t = m[1]
	}
	if v, ok := mixedNumber(t); ok {
		p.ratio(v, 2, 1)
		return
	}
	if w, ok := wordsToDigits(t); ok {
		t = w
	}
	for _, w := range letters.FindAllString(t, -1) {
		if !markWords[w] {
			return // a sentence, not a mark
		}
	}
	switch groups := digitGroup.FindAllStringIndex(t, -1); len(groups) {
	case 1:
		p.run(t[groups[0][0]:groups[0][1]])
	case 2:
		p.two(t[groups[0][0]:groups[0][1]], strings.TrimSpace(t[groups[0][1]:groups[1][0]]), t[groups[1][0]:groups[1][1]])
	}
}

// mixedNumber reads a ratio said with a fraction, "three and three quarter",
// as hundredths.
func mixedNumber(t string) (string, bool) {
	words, ok := spoken(t)
	if !ok || !slices.ContainsFunc(words, func(w spokenWord) bool { return w.kind == wFraction || w.kind == wOver }) {
		return "", false
	}
	var whole []said
	for _, m := range meanings(t) {
		if m.turns >= 1 && m.nudge == 0 && !m.about {
			whole = append(whole, m)
		}
	}
	if len(whole) != 1 {
		return "", false
	}
	return strconv.FormatFloat(math.Round(whole[0].turns*100), 'f', 0, 64), true
}

// two reads two groups of digits with what stands between them.
func (p *markReader) two(a, sep, b string) {
	switch {
	case sep == "." || sep == ",":
		p.ratio(a+b, len(b), 1)
		if len(p.usual) == 0 { // 47.9 is no ratio, but may be 47 and 9
			p.counts(a, b, 1)
		}
	case len(a) == 1 && (len(b) == 2 || len(b) == 3) && !strings.ContainsAny(sep, "/x"):
		// "4-10" and "4·11" are mostly ratios whose point was stamped as a
		// dash or dot, or left out; two counts may be meant.
		p.both = true
		n := len(p.usual)
		p.counts(a, b, dashedCounts)
		countsUsual := len(p.usual) > n
		if f, _ := strconv.ParseFloat(a+"."+b, 64); !countsUsual || f <= p.commonHigh() {
			p.ratio(a+b, len(b), dashedRatio)
		}
		slices.SortStableFunc(p.usual, func(x, y Mark) int { return compareDown(x.style, y.style) })
	default:
		p.counts(a, b, 1)
	}
}

// How often a ratio or two counts are written in a way that reads as either,
// against the plain ways to write them.
const (
	dashedRatio  = 0.2  // the point as a dash, dot or blank
	dashedCounts = 0.15 // the small gear first, with a dash or blank
	runRatio     = 0.3  // the point left out
	runCounts    = 0.05 // nothing between the counts
)

// commonHigh is the highest ratio that is met often at the stage; "9-47" is
// no ratio of 9.47.
func (p *markReader) commonHigh() float64 {
	high := 0.0
	for _, c := range p.cons {
		high = max(high, 0.7*c.high)
	}
	return high
}

type markReader struct {
	stage      Stage
	cons       []Construction
	usual, odd []Mark
	both       bool // unusual readings stand beside usual ones
}

// run reads one group of digits, which may be anything.
func (p *markReader) run(d string) {
	switch len(d) {
	case 1:
		p.ratio(d, 0, 1)
	case 2:
		p.ratio(d, 1, runRatio)
	case 3:
		p.ratio(d, 2, runRatio)
	}
	for i := 1; i < len(d); i++ {
		if d[i] != '0' && d[0] != '0' {
			p.counts(d[:i], d[i:], runCounts)
		}
	}
	if len(d) == 4 {
		p.ratio(d, 2, runRatio) // 1025 is 10.25
		p.ratio(d, 3, runRatio) // 4100 is 4.100
	}
}

func (p *markReader) ratio(digits string, places int, style float64) {
	if len(digits) > 7 {
		return
	}
	v, err := strconv.ParseInt(digits, 10, 64)
	if err != nil || v == 0 {
		return
	}
	m := Mark{Value: v, Places: places, style: style}
	f := m.value()
	for _, c := range p.cons {
		if f >= c.low-0.005 && f <= c.high+0.005 {
			m.Plausible = true
			p.add(m)
			return
		}
	}
	if f >= 0.1 && f <= 20 {
		p.add(m)
	}
}

func (p *markReader) counts(a, b string, style float64) {
	x, err1 := strconv.Atoi(a)
	y, err2 := strconv.Atoi(b)
	if err1 != nil || err2 != nil || x == 0 || y == 0 || x > 200 || y > 200 {
		return
	}
	for _, c := range p.cons {
		if len(c.Teeth) != 2 {
			continue
		}
		for i, t := range [][]int{{x, y}, {y, x}} {
			if i == 1 && x == y {
				break
			}
			if p.stage.refusal(c, t) != nil {
				continue
			}
			m := Mark{Counts: t, Construction: c.ID, style: style, Plausible: len(p.stage.BuildChecks(c, t, 0, 0)) == 0}
			if m.Plausible || (t[1] >= 3 && absf(c.mustRatio(p.stage, t)) <= 15) {
				p.add(m)
			}
		}
	}
}

func (p *markReader) add(m Mark) {
	list := &p.odd
	if m.Plausible {
		list = &p.usual
	}
	for _, o := range *list {
		if o.Canonical() == m.Canonical() && o.Construction == m.Construction {
			return
		}
	}
	*list = append(*list, m)
}

func (c Construction) mustRatio(s Stage, t []int) float64 {
	r, err := c.ratioOf(s, t)
	if err != nil {
		return 0
	}
	return r.Float()
}

// likelihood is the chance that a part with ratio r and teeth t carries this
// mark, given that it is marked in this way. Ratios are mostly rounded, some
// makers cut the last decimal.
func (m Mark) likelihood(construction string, teeth []int16, r exact.Number) float64 {
	if !m.IsRatio() {
		if construction != m.Construction || int(teeth[0]) != m.Counts[0] || int(teeth[1]) != m.Counts[1] {
			return 0
		}
		return 1
	}
	scale := int64(math.Pow10(m.Places))
	num, den, _ := r.Fraction()
	if num < 0 {
		num = -num
	}
	cut := num * scale / den
	rounded := (2*num*scale + den) / (2 * den)
	p := 0.0
	if rounded == m.Value {
		p += shareRounded
	}
	if cut == m.Value {
		p += 1 - shareRounded
	}
	return p
}

// shareRounded is the share of printed ratios that are rounded, not cut.
const shareRounded = 0.9

var smallNumbers = map[string]int{
	"zero": 0, "oh": 0, "o": 0, "one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7,
	"eight": 8, "nine": 9, "ten": 10, "eleven": 11, "twelve": 12, "thirteen": 13, "fourteen": 14, "fifteen": 15,
	"sixteen": 16, "seventeen": 17, "eighteen": 18, "nineteen": 19, "twenty": 20, "thirty": 30, "forty": 40,
	"fifty": 50, "sixty": 60, "seventy": 70, "eighty": 80, "ninety": 90,
}

// wordsToDigits turns spoken numbers into the digits a technician means:
// "four-ten" 4.10, "three seventy three" 3.73, "forty-seven nine" 47 9.
// It reports false if the text has no number words.
func wordsToDigits(t string) (string, bool) {
	fields := strings.FieldsFunc(t, func(r rune) bool { return r == ' ' || r == '-' || r == '–' })
	var nums []string
	point := false
	pending := -1
	flush := func() {
		if pending >= 0 {
			nums = append(nums, strconv.Itoa(pending))
			pending = -1
		}
	}
	found := false
	for _, f := range fields {
		if f == "point" || f == "dot" {
			flush()
			point = true
			continue
		}
		n, ok := smallNumbers[f]
		if !ok {
			if f == "a" || f == "an" || f == "and" || f == "gears" || f == "ratio" || f == "to" {
				continue
			}
			return "", false
		}
		found = true
		switch {
		case n >= 20:
			flush()
			pending = n
		case pending >= 20 && n > 0 && n < 10:
			pending += n
			flush()
		case n == 0:
			flush()
			nums = append(nums, "0")
		default:
			flush()
			nums = append(nums, strconv.Itoa(n))
		}
	}
	flush()
	if !found || len(nums) == 0 {
		return "", false
	}
	if len(nums) == 1 {
		return nums[0], true
	}
	if point || len(nums[0]) == 1 {
		return nums[0] + "." + strings.Join(nums[1:], ""), true
	}
	return strings.Join(nums, " "), true
}
