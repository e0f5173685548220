package identify

import (
	"errors"
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"

	"zorvel/core/fault"
	"zorvel/core/ratio"
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
	"ratio": true, "to": true, "by": true, "tag": true, "no": true, "sun": true,
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
	t := strings.ToLower(strings.TrimSpace(text))
	if w, ok := wordsToDigits(t); ok {
		t = w
	}
	// "4.10:1" and "1:4.10" say "to one"; the one is no count.
	t = regexp.MustCompile(`^\s*1\s*:\s*(\d+[.,]\d+)\s*$`).ReplaceAllString(t, "$1")
	t = regexp.MustCompile(`^(\d+(?:[.,]\d+)?)\s*(?::|to)\s*(?:1|one)\s*$`).ReplaceAllString(t, "$1")
	groups := digitGroup.FindAllStringIndex(t, -1)
	for _, w := range letters.FindAllString(t, -1) {
		if !markWords[w] {
			groups = nil // a sentence, not a mark
		}
	}
	p := markReader{stage: s, cons: cons}
	switch len(groups) {
	case 1:
		p.run(t[groups[0][0]:groups[0][1]])
	case 2:
		a, b := t[groups[0][0]:groups[0][1]], t[groups[1][0]:groups[1][1]]
		sep := strings.TrimSpace(t[groups[0][1]:groups[1][0]])
		switch {
		case sep == "." || sep == ",":
			p.ratio(a+b, len(b))
			if len(p.usual) == 0 { // 47.9 is no ratio, but may be 47 and 9
				p.counts(a, b)
			}
		case sep == "" && len(a) <= 2 && len(b) == 2 && len(a) < 2: // "4 10"
			p.ratio(a+b, 2)
			p.counts(a, b)
		default:
			p.counts(a, b)
		}
	}
	marks := append(p.usual, p.odd...)
	if len(marks) == 0 {
		return nil, fault.New("text", "%q gives neither two tooth counts nor a ratio; type what is stamped, for example 47 9, 9-47, 5.22 or 522", text)
	}
	if len(p.usual) > 0 {
		marks = p.usual
	}
	return marks, nil
}

type markReader struct {
	stage      Stage
	cons       []Construction
	usual, odd []Mark
}

// run reads one group of digits, which may be anything.
func (p *markReader) run(d string) {
	switch len(d) {
	case 1:
		p.ratio(d, 0)
	case 2:
		p.ratio(d, 1)
	case 3:
		p.ratio(d, 2)
	}
	for i := 1; i < len(d); i++ {
		if d[i] != '0' && d[0] != '0' {
			p.counts(d[:i], d[i:])
		}
	}
	if len(d) == 4 {
		p.ratio(d, 2) // 1025 is 10.25
		p.ratio(d, 3) // 4100 is 4.100
	}
}

func (p *markReader) ratio(digits string, places int) {
	if len(digits) > 7 {
		return
	}
	v, err := strconv.ParseInt(digits, 10, 64)
	if err != nil || v == 0 {
		return
	}
	m := Mark{Value: v, Places: places}
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

func (p *markReader) counts(a, b string) {
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
			m := Mark{Counts: t, Construction: c.ID, Plausible: len(p.stage.BuildChecks(c, t, 0, 0)) == 0}
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
func (m Mark) likelihood(construction string, teeth []int16, r ratio.Ratio) float64 {
	if !m.IsRatio() {
		if construction != m.Construction || int(teeth[0]) != m.Counts[0] || int(teeth[1]) != m.Counts[1] {
			return 0
		}
		return 1
	}
	scale := int64(math.Pow10(m.Places))
	num, den := r.Num(), r.Den()
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

var (
	unicodeFractions = strings.NewReplacer("¼", " 1/4 ", "½", " 1/2 ", "¾", " 3/4 ", "⅓", " 1/3 ", "⅔", " 2/3 ",
		"⅛", " 1/8 ", "⅜", " 3/8 ", "⅝", " 5/8 ", "⅞", " 7/8 ", ",", ".", "-", " ", "–", " ")
	shaftNumber = regexp.MustCompile(`^\d{1,6}$`)
	shaftPoint  = regexp.MustCompile(`^(\d{0,6})\.(\d{1,4})$`)
	shaftOver   = regexp.MustCompile(`^(\d{1,2})/(\d{1,2})$`)
)

var fractionWords = map[string]float64{
	"quarter": 0.25, "quarters": 0.25, "half": 0.5, "halves": 0.5, "third": 1.0 / 3, "thirds": 1.0 / 3,
	"eighth": 0.125, "eighths": 0.125, "tenth": 0.1, "tenths": 0.1,
}

var smallBits = map[string]bool{
	"bit": true, "touch": true, "hair": true, "little": true, "tad": true, "just": true, "some": true, "barely": true,
	"plus": true, "slightly": true,
}

var pastWords = map[string]bool{"past": true, "over": true, "after": true, "beyond": true, "more": true}

var shortWords = map[string]bool{
	"short": true, "under": true, "before": true, "almost": true, "nearly": true, "less": true, "shy": true,
	"to": true, "minus": true, "below": true, "not": true,
}

var fillerWords = map[string]bool{
	"and": true, "a": true, "an": true, "of": true, "turn": true, "turns": true, "exactly": true, "about": true, "than": true,
	"the": true, "mark": true, "on": true, "roughly": true, "full": true, "whole": true, "around": true, "times": true, "quite": true,
}

// JustPast is what "just past" and "a bit" are taken for, in turns.
const JustPast = 0.05

// ParseShaft reads shaft turns as said at the vehicle: "4 and a bit", "just
// short of five", "5 1/4", "3 tenths past 4", "4.3". The error says what
// would be understood.
func ParseShaft(text string) (Shaft, error) {
	fail := errors.New(`not understood: say whole turns and what is left, for example "4 and a bit", "just short of 5", "4 1/4" or "4.3"`)
	if len(text) > maxText {
		return Shaft{}, fail
	}
	t := unicodeFractions.Replace(strings.ToLower(text))
	var numbers []int
	frac, short, past, bit := -1.0, false, false, false
	quarter := false
	decimal := false
	count := 0
	for _, f := range strings.Fields(t) {
		f = strings.Trim(f, ".;!?\"'“”")
		n, isWord := smallNumbers[f]
		numberBefore := len(numbers) > count
		count = len(numbers)
		switch {
		case f == "":
		case isWord && f != "o" && f != "oh":
			if k := len(numbers); k > 0 && numbers[k-1] >= 20 && numbers[k-1]%10 == 0 && n > 0 && n < 10 {
				numbers[k-1] += n
			} else {
				numbers = append(numbers, n)
			}
		case shaftNumber.MatchString(f):
			n, _ := strconv.Atoi(f)
			numbers = append(numbers, n)
		case shaftPoint.MatchString(f):
			m := shaftPoint.FindStringSubmatch(f)
			n, _ := strconv.Atoi("0" + m[1])
			d, _ := strconv.ParseFloat("0."+m[2], 64)
			if frac >= 0 || decimal {
				return Shaft{}, fail
			}
			numbers, frac, decimal = append(numbers, n), d, true
		case shaftOver.MatchString(f):
			m := shaftOver.FindStringSubmatch(f)
			a, _ := strconv.Atoi(m[1])
			b, _ := strconv.Atoi(m[2])
			if b == 0 || a >= b || frac >= 0 {
				return Shaft{}, fail
			}
			frac, quarter = float64(a)/float64(b), b == 4 || b == 2
		case fractionWords[f] > 0:
			if frac >= 0 {
				return Shaft{}, fail
			}
			times := 1
			// "three quarters", "one half": a number right before belongs
			// to the fraction; in "one and a half" it doesn't.
			if numberBefore && (strings.HasSuffix(f, "s") || numbers[len(numbers)-1] == 1) {
				times = numbers[len(numbers)-1]
				numbers = numbers[:len(numbers)-1]
			}
			frac = float64(times) * fractionWords[f]
			quarter = fractionWords[f] == 0.25 || fractionWords[f] == 0.5
		case smallBits[f]:
			bit = true
		case pastWords[f]:
			past = true
		case shortWords[f]:
			short = true
		case fillerWords[f]:
		default:
			return Shaft{}, fail
		}
	}
	if len(numbers) > 1 || (len(numbers) == 0 && frac < 0) || frac >= 1 {
		return Shaft{}, fail
	}
	if short && past && !bit { // "short" and "past" at once say nothing
		return Shaft{}, fail
	}
	s := Shaft{Remainder: Remainder{By: OnTheMark}}
	if len(numbers) == 1 {
		s.Whole = numbers[0]
	}
	switch {
	case frac > 0:
		s.Remainder = Remainder{By: ByEye, Fraction: frac, Short: short}
		if quarter {
			s.Remainder.By = BareQuarter
		}
	case bit || short || past:
		s.Remainder = Remainder{By: ByEye, Fraction: JustPast, Short: short}
	}
	return s, nil
}
