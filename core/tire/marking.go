package tire

import (
	"errors"
	"math"
	"regexp"
	"slices"
	"strings"

	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/typed"
)

// System is a way of marking a tire's size.
type System string

// Systems of marking.
const (
	Metric         System = "metric"          // P225/75R16: width mm, aspect %, rim inches
	MetricDiameter System = "metric_diameter" // 245/645R18: width mm, diameter mm, rim inches
	Flotation      System = "flotation"       // 31x10.50R15: diameter, width, rim, all inches
	Racing         System = "racing"          // 26.0/10.0-15: diameter, width, rim, all inches
	Numeric        System = "numeric"         // 7.50-16: width and rim inches, the rest by custom
	Commercial     System = "commercial"      // 11R22.5: the same on a drop-center rim
	MetricBare     System = "metric_bare"     // 195R15: width mm without an aspect
	Implement      System = "implement"       // 12.5/80-18: width inches, aspect %, rim inches
	Letter         System = "letter"          // H78-15: load letter, aspect %, rim inches
)

// bareAspect is the height of metric sizes that state none: the 80 series.
const bareAspect = 80

// Marking is a marking that was understood.
type Marking struct {
	Text         string       `json:"text"`   // as it should be written
	System       System       `json:"system"` //
	WidthMM      exact.Number `json:"width_mm"`
	Aspect       exact.Number `json:"aspect_percent"` // side wall ÷ width
	RimMM        exact.Number `json:"rim_mm"`
	DiameterMM   exact.Number `json:"diameter_mm"`
	Construction Construction `json:"construction"`
	// BuildOpen: the marking does not say whether it is radial or bias;
	// Construction is the likelier then.
	BuildOpen bool `json:"build_open,omitempty"`
	// Spread is ± percent of an estimated diameter; 0 where the marking fixes it.
	Spread   float64  `json:"diameter_spread_percent"`
	Service  string   `json:"service,omitempty"` // P, LT, C, ST, T
	Load     string   `json:"load,omitempty"`    // index or ply rating
	Speed    string   `json:"speed,omitempty"`
	Formula  string   `json:"formula"`
	Sentence string   `json:"sentence"`
	Notes    []string `json:"notes"`
}

const num = `(\d{1,3}(?:\.\d{1,3})?)`

var (
	prefixes  = regexp.MustCompile(`^(P|LT|ST|HL|T|C)\s*(?:([^A-Z]))`)
	metric    = regexp.MustCompile(`^` + num + `\s*([/\s-])\s*` + num + `\s*(?:(?:[/-]\s*)?([ZSHV]?R|D|B|RF|ZRF)|([-/X\s]))\s*-?\s*` + num)
	flotation = regexp.MustCompile(`^` + num + `\s*(X)\s*` + num + `\s*(?:(?:[/-]\s*)?(Z?R|D|B)|([-/X\s]))\s*-?\s*` + num)
	numeric   = regexp.MustCompile(`^` + num + `\s*(?:([ZSHV]?R|D|B)|[-X])\s*` + num)
	// What is written without its signs: 26570R17, 750-16, 1000R20, 33X1250R15.
	runMetric    = regexp.MustCompile(`^(\d{3})(\d{2})\s*([ZSHV]?R)\s*(\d{2})\b`)
	runNumeric   = regexp.MustCompile(`^(\d{1,2})(\d0|\d5)\s*([-RX])\s*(\d{2})\b`)
	runFlotation = regexp.MustCompile(`^(\d{2}(?:\.\d)?)\s*X\s*(\d{1,2})(\d0|\d5)\s*((?:Z?R|D|B|[-X]))\s*(\d{2})`)
	slashNumeric = regexp.MustCompile(`^(\d{1,2}\.\d{1,2})\s*/\s*(\d{2})$`)
	rimSize      = regexp.MustCompile(`^(\d{1,2}(?:\.5)?)\s*X\s*(\d{1,2}(?:\.5)?)\s*(?:J{1,2}|JK|K)?$`)
	// An old numeric size with a ply rating, load index or letters behind it
	// is not the three numbers of another system: 10.00-20 16PR, 7.50-16 116N.
	old        = regexp.MustCompile(`^(\d{1,2}(?:\.\d{1,3})?)\s*-\s*(\d{1,2})(\s+(?:\d{1,2}\s*(?:PR|PLY)\b|3PMSF|\d{2,3}(?:/\d{2,3})?\s?[A-Z]\d?(?:\s|$)|\d{3}(?:[\s/]|$)).*)$`)
	slashRange = regexp.MustCompile(`/([A-N])(\s|$)`) // R15/C: load range C
	// What may follow a size: load index and speed letter, ply rating, load
	// range, and the usual letters for tubes, mud and snow, and build.
	loadSpeed    = regexp.MustCompile(`^\(?(\d{2,3}(?:/\d{2,3})?)\s*([A-Z]\d?)?\)?$`)
	glued        = regexp.MustCompile(`^(LT|ST|CP|C)(\d{2,3}(?:/\d{2,3})?)([A-Z]\d?)?$`) // 16C118/116R
	decimalComma = regexp.MustCompile(`(\d),(\d{1,2})(\D|$)`)
	plies        = regexp.MustCompile(`^(\d{1,2})\s*(?:PR|PLY)$`)
	tail         = regexp.MustCompile(`^(LT|ST|C|CP|XL|RF|HL|TL|TT|MT|AT|M\+?S|M/S|3PMSF|LR[A-N]?|RANGE|[A-N]|RFD|REINF|EXTRA|LOAD|TUBELESS|TUBE|NHS|OWL|BSW|WSW)$`)
	clean        = strings.NewReplacer("×", "X", "✕", "X", "*", "X", "Х", "X", "х", "X", "″", "", "\"", "", "”", "", "“", "", "''", "", "–", "-", "—", "-", "−", "-", "‑", "-", "\u00a0", " ", "\u202f", " ", "\t", " ", "⁄", "/", "\\", "/")
)

const expected = "a size such as 225/75R16, LT245/75R16, 31x10.50R15, 26.0/10.0-15, 245/645R18, 7.50-16, 195R15C or 11R22.5"

// Parse reads a marking as it stands on a sidewall or as people write it down:
// any case, spaces, ×, decimal commas, prefixes and what follows the size. Its
// error is a fault.Error that says what was expected.
func Parse(text string) (*Marking, error) {
	no := func(format string, args ...any) (*Marking, error) { return nil, fault.New("marking", format, args...) }
	if len(text) > 60 {
		return no("at most 60 characters; expected is %s", expected)
	}
	s := strings.TrimSpace(clean.Replace(strings.ToUpper(clean.Replace(typed.Plain(text)))))
	// A comma before one or two digits is a decimal one, any other parts words.
	s = decimalComma.ReplaceAllString(s, "$1.$2$3")
	s = strings.Join(strings.Fields(strings.ReplaceAll(s, ",", " ")), " ")
	if s == "" {
		return no("expected is %s", expected)
	}
	m := &Marking{Notes: []string{}}
	if p := prefixes.FindStringSubmatch(s); p != nil {
		m.Service = p[1]
		s = strings.TrimSpace(s[len(p[1]):])
	}
	if err := notARim(s); err != nil {
		return nil, err
	}
	s = withSigns(s)
	rest, err := m.size(s)
	if errors.Is(err, errNoSize) {
		return no("%q is no tire size; expected is %s", strings.TrimSpace(text), expected)
	}
	if err != nil {
		return nil, err
	}
	if err := m.suffix(rest); err != nil {
		return nil, err
	}
	m.finish()
	return m, nil
}

// notARim refuses a rim's own size.
func notARim(s string) error {
	if g := rimSize.FindStringSubmatch(s); g != nil {
		a, b := figure(g[1]), figure(g[2])
		switch {
		case between(a, 10, 30) && between(b, 3, 16):
			return fault.New("marking", "%s is a rim's size, %s inches across and %s wide, not a tire's; expected is %s", strings.ToLower(g[0]), g[1], g[2], expected)
		case between(a, 3, 9) && between(b, 10, 30):
			return fault.New("marking", "%s may be a rim %s inches wide or an old tire: type %s.00-%s for the tire", strings.ToLower(g[0]), g[1], g[1], g[2])
		}
	}
	return nil
}

var errNoSize = errors.New("no tire size")

// size reads the size by the system that it is written in, and returns what
// stands behind it.
func (m *Marking) size(s string) (rest string, err error) {
	switch {
	case letterSize.MatchString(s):
		g := letterSize.FindStringSubmatch(s)
		rest = s[len(g[0]):]
		return rest, m.letter(g[1], g[2], g[3], g[4])
	case old.MatchString(s) && between(figure(old.FindStringSubmatch(s)[1]), 2, 30) && between(figure(old.FindStringSubmatch(s)[2]), 4, 42):
		g := old.FindStringSubmatch(s)
		rest = g[3]
		return rest, m.custom(g[1], "", g[2])
	case flotation.MatchString(s):
		g := flotation.FindStringSubmatch(s)
		rest = s[len(g[0]):]
		m.BuildOpen = g[4] == "" && g[5] != "-"
		return rest, m.inches(Flotation, g[1], g[3], g[4], g[6])
	case metric.MatchString(s):
		g := metric.FindStringSubmatch(s)
		rest = s[len(g[0]):]
		return rest, m.slashed(g)
	case numeric.MatchString(s):
		g := numeric.FindStringSubmatch(s)
		rest = s[len(g[0]):]
		return rest, m.custom(g[1], g[2], g[3])
	}
	return "", errNoSize
}

// slashed reads the sizes that are written with a stroke: by their figures they
// are metric, racing, agricultural or a flotation size that lost its letter.
func (m *Marking) slashed(g []string) error {
	first, second := figure(g[1]), figure(g[3])
	switch {
	case between(first, 4, 30) && between(second, 40, 110):
		return m.implement(first, second, g[4], g[6])
	case first.Cmp(hund) < 0 && !(between(first, 60, 99) && between(second, 40, 110)):
		// 26.0/10.0-15 is written so for bias; 33 12.50 15 has lost its letter.
		sys := Racing
		if m.BuildOpen = g[4] == "" && !(g[2] == "/" && g[5] == "-"); m.BuildOpen && between(first, 28, 60) {
			sys = Flotation
		}
		return m.inches(sys, g[1], g[3], g[4], g[6])
	case second.Cmp(exact.Int(400)) >= 0:
		return m.metricDiameter(first, second, g[4], g[6])
	default:
		return m.metric(first, second, g[4], g[5], g[6])
	}
}

// withSigns puts in the signs that were left out of a size.
func withSigns(s string) string {
	if g := runMetric.FindStringSubmatch(s); g != nil {
		return g[1] + "/" + g[2] + g[3] + g[4] + s[len(g[0]):]
	}
	if g := runFlotation.FindStringSubmatch(s); g != nil && between(figure(g[2]), 5, 20) {
		return g[1] + "X" + g[2] + "." + g[3] + g[4] + g[5] + s[len(g[0]):]
	}
	// 195R15 stays millimeters: inches in hundredths begin at 5.00.
	if g := runNumeric.FindStringSubmatch(s); g != nil && between(figure(g[1]), 5, 18) {
		return g[1] + "." + g[2] + g[3] + g[4] + s[len(g[0]):]
	}
	if g := slashNumeric.FindStringSubmatch(s); g != nil {
		return g[1] + "-" + g[2]
	}
	return s
}

func figure(s string) exact.Number {
	n, err := exact.Parse(s)
	if err != nil { // the expressions above let only numbers through
		return exact.Number{}
	}
	return n
}

func whole(n exact.Number) bool { return !strings.Contains(n.String(), "/") }

func inch(n exact.Number) exact.Number { return n.Mul(exact.New(254, 10)) }

func between(n exact.Number, lo, hi int64) bool {
	return n.Cmp(exact.Int(lo)) >= 0 && n.Cmp(exact.Int(hi)) <= 0
}

func (m *Marking) build(letter string) string {
	switch {
	case strings.Contains(letter, "R"):
		m.Construction = Radial
		return "R"
	case letter == "":
		m.Construction = Bias
		return "-"
	}
	m.Construction = Bias
	return letter
}

// rim reads a rim diameter: inches, or millimeters from 300 up.
func (m *Marking) rim(s string) error {
	r := figure(s)
	switch {
	case between(r, 300, 560) && whole(r.Div(exact.Int(5))):
		m.RimMM = r
		m.Notes = append(m.Notes, "The rim is marked in millimeters: "+r.Short(1)+" mm.")
	case between(r, 4, 63) && whole(r.Add(r)):
		m.RimMM = inch(r)
	case between(r, 4, 63):
		return fault.New("marking", "a rim of %s inches is not made; rims are whole or half inches", s)
	default:
		return fault.New("marking", "a rim of %s is not made; rims are 4 to 63 inches, or 300 to 560 mm", s)
	}
	return nil
}

func (m *Marking) metric(width, aspect exact.Number, letter, sep, rim string) error {
	if !between(width, 60, 900) {
		return fault.New("marking", "a width of %s mm is not made; metric widths are 60 to 900 mm", width.Short(1))
	}
	if !between(aspect, 15, 110) {
		return fault.New("marking", "an aspect of %s is not made; it is 15 to 110 %% of the width, or from 400 up a diameter in mm", aspect.Short(1))
	}
	if err := m.rim(rim); err != nil {
		return err
	}
	m.System, m.WidthMM, m.Aspect = Metric, width, aspect
	cycle := between(width, 60, 99) || (letter == "" && sep == "-" && between(width, 60, 200) && aspect.Cmp(exact.Int(80)) >= 0 && between(figure(rim), 16, 23))
	switch {
	case cycle && letter == "":
		m.Notes = append(m.Notes, "Read as a motorcycle size; the dash means bias.")
	case letter == "":
		letter = "R"
		m.Notes = append(m.Notes, "No letter for the build: taken as radial, as nearly all metric tires are.")
	}
	m.Text = width.Short(3) + "/" + aspect.Short(3) + m.build(letter) + figure(rim).Short(3)
	wall := width.Mul(aspect).Div(hund)
	m.DiameterMM = m.RimMM.Add(wall.Add(wall))
	m.Formula = m.RimMM.Short(2) + " mm rim + 2 × " + width.Short(1) + " mm × " + aspect.Short(1) + " %"
	return nil
}

func (m *Marking) implement(width, aspect exact.Number, letter, rim string) error {
	if err := m.rim(rim); err != nil {
		return err
	}
	m.System, m.WidthMM, m.Aspect = Implement, inch(width), aspect
	m.Text = atLeast(width, 1) + "/" + aspect.Short(3) + m.build(letter) + figure(rim).Short(3)
	wall := m.WidthMM.Mul(aspect).Div(hund)
	m.DiameterMM = m.RimMM.Add(wall.Add(wall))
	m.Formula = m.RimMM.Short(2) + " mm rim + 2 × " + m.WidthMM.Short(2) + " mm × " + aspect.Short(1) + " %"
	return nil
}

func (m *Marking) metricDiameter(width, diameter exact.Number, letter, rim string) error {
	if !between(width, 100, 900) || !between(diameter, 400, 999) {
		return fault.New("marking", "%s/%s can't be: a width of 100 to 900 mm and a diameter of 400 to 999 mm are expected", width.Short(1), diameter.Short(1))
	}
	if err := m.rim(rim); err != nil {
		return err
	}
	m.System, m.WidthMM, m.DiameterMM = MetricDiameter, width, diameter
	m.Text = width.Short(3) + "/" + diameter.Short(3) + m.build(letter) + figure(rim).Short(3)
	m.Formula = "the diameter is in the marking: " + diameter.Short(1) + " mm"
	return m.walls()
}

func (m *Marking) inches(sys System, diameter, width, letter, rim string) error {
	d, w := figure(diameter), figure(width)
	if !between(d, 8, 99) || !between(w, 2, 60) {
		return fault.New("marking", "%s by %s inches can't be; a diameter of 8 to 99 and a width of 2 to 60 inches are expected", diameter, width)
	}
	if err := m.rim(rim); err != nil {
		return err
	}
	m.System, m.WidthMM, m.DiameterMM = sys, inch(w), inch(d)
	mark, places, across := "x", 2, d.Short(3)
	if sys == Racing {
		mark, places, across = "/", 1, atLeast(d, 1)
	}
	build := ""
	if m.BuildOpen {
		// Written without a letter again: what isn't known isn't put in.
		m.Construction, build = Radial, mark
		m.Notes = append(m.Notes, askBuild)
	} else {
		build = m.build(letter)
	}
	m.Text = across + mark + atLeast(w, places) + build + figure(rim).Short(3)
	m.Formula = "the diameter is in the marking: " + d.Short(2) + " in × 25.4"
	return m.walls()
}

// atLeast prints all decimals of a number and no fewer than so many.
func atLeast(n exact.Number, places int) string {
	s := n.Short(3)
	if _, d, _ := strings.Cut(s, "."); len(d) < places {
		return n.Decimal(places)
	}
	return s
}

// walls works the aspect out where the diameter is given.
func (m *Marking) walls() error {
	wall := m.DiameterMM.Sub(m.RimMM).Div(exact.Int(2))
	if wall.Sign() <= 0 {
		return fault.New("marking", "the rim (%s mm) is not smaller than the tire (%s mm)", m.RimMM.Short(1), m.DiameterMM.Short(1))
	}
	m.Aspect = wall.Mul(hund).Div(m.WidthMM)
	return nil
}

// custom reads a width and a rim without a height: numeric, commercial and
// bare metric markings.
func (m *Marking) custom(width, letter, rim string) error {
	w, r := figure(width), figure(rim)
	if err := m.rim(rim); err != nil {
		return err
	}
	kind := class{words: "80 series", aspect: bareAspect, spread: 2}
	switch {
	case between(w, 100, 450):
		m.System, m.WidthMM = MetricBare, w
		m.Text = w.Short(3)
	case between(w, 2, 38) && strings.HasSuffix(r.Short(3), ".5"):
		kind = classOf(dropCenter, w, r)
		m.System, m.WidthMM = Commercial, inch(w)
		m.Text = w.Short(3)
	case between(w, 2, 38):
		kind = classOf(classes, w, r)
		m.System, m.WidthMM = Numeric, inch(w)
		m.Text = atLeast(w, 2)
		if letter != "" && w.Short(2) == width && !strings.Contains(width, ".") {
			// 10R20, 12R20: a commercial marking on an old rim.
			m.Text = width
		}
		if kind.only != nil && strings.Contains(width, ".") {
			m.Text = width // 16.9-30 is written with one decimal
		}
	default:
		return fault.New("marking", "a width of %s is not made; inches are 2 to 38, millimeters 100 to 450", width)
	}
	m.Text += m.build(letter) + r.Short(3)
	m.estimated(kind)
	return nil
}

// letter reads an old letter size.
func (m *Marking) letter(load, radial, series, rim string) error {
	if err := m.rim(rim); err != nil {
		return err
	}
	s := figure(series).Float()
	m.System = Letter
	m.WidthMM = exact.Int(int64(math.Round(float64(letterWidths[load]) * math.Pow(78/s, 0.35))))
	m.Text = load + radial + series + "-" + rim
	m.Construction = Bias
	if radial != "" {
		m.Construction = Radial
	}
	m.estimated(class{words: "letter size, whose width follows from the load it bears", aspect: math.Round(s*76.5/78*10) / 10, spread: 3})
	return nil
}

// estimated works the diameter out by a class's usual height.
func (m *Marking) estimated(kind class) {
	aspect := exact.New(int64(math.Round(kind.aspect*10)), 10)
	m.Aspect, m.Spread = aspect, kind.spread
	wall := m.WidthMM.Mul(aspect).Div(hund)
	m.DiameterMM = m.RimMM.Add(wall.Add(wall))
	m.Formula = m.RimMM.Short(2) + " mm rim + 2 × " + m.WidthMM.Short(2) + " mm × " + aspect.Short(1) + " % (estimated)"
	m.Notes = append(m.Notes, "This marking has no height of its own ("+kind.words+"); "+aspect.Short(1)+" % of the width is an estimate, ± "+trim(m.Spread)+" % of the diameter. Roll the tire out, or measure it.")
}

// suffix reads what follows the size.
func (m *Marking) suffix(rest string) error {
	if g := slashRange.FindStringSubmatch(rest); g != nil {
		m.Load = "range " + g[1]
		rest = strings.Replace(rest, g[0], " ", 1)
	}
	rest = strings.TrimSpace(rest)
	if rest == "" {
		return nil
	}
	// Letters that stick to the rim: 16C, 15LT.
	for _, w := range strings.Fields(rest) {
		w = strings.Trim(w, ".;")
		switch {
		case w == "":
		case loadSpeed.MatchString(w):
			g := loadSpeed.FindStringSubmatch(w)
			m.Load = g[1]
			if g[2] != "" {
				m.Speed = g[2]
			}
		case plies.MatchString(w):
			m.Load = plies.FindStringSubmatch(w)[1] + " PR"
		case w == "PR" || w == "PLY":
			if m.Load != "" {
				m.Load += " PR"
			}
		case len(w) == 1 && w >= "J" && w <= "Z" && m.Speed == "" && m.Load != "" && m.Load[0] >= '0' && m.Load[0] <= '9':
			m.Speed = w // 116 S
		case tail.MatchString(w):
			switch {
			case w == "C" && m.Service == "LT", len(w) == 1 && w != "C":
				m.Load = "range " + w
			case len(w) == 3 && strings.HasPrefix(w, "LR"):
				m.Load = "range " + w[2:]
			case w == "LT" || w == "ST" || w == "C" || w == "CP":
				m.Service = w
			}
		case glued.MatchString(w):
			g := glued.FindStringSubmatch(w)
			m.Service, m.Load, m.Speed = g[1], g[2], g[3]
		case len(w) == 1 && strings.ContainsAny(w, "QRSTUHVWYZP"):
			m.Speed = w
		default:
			return fault.New("marking",
				"%q after the size isn't understood; a load index and speed letter (120S), ply rating (8PR), LT or C may follow", w)
		}
	}
	return nil
}

var systemWords = map[System]string{
	Metric: "metric", MetricDiameter: "metric with its diameter", Flotation: "flotation", Racing: "racing, in inches",
	Implement: "implement", Letter: "old letter size", Numeric: "old numeric", Commercial: "commercial", MetricBare: "metric without a height",
}

func (m *Marking) buildWords() string {
	if m.BuildOpen {
		return "radial or bias isn't marked"
	}
	return string(m.Construction)
}

func (m *Marking) finish() {
	switch m.Service {
	case "":
	case "C", "CP":
		m.Text += m.Service
	case "LT":
		if m.System == Flotation || m.System == Numeric {
			m.Text += "LT"
		} else {
			m.Text = "LT" + m.Text
		}
	default:
		m.Text = m.Service + m.Text
	}
	m.Sentence = m.sentence()
	if m.Service == "T" {
		m.Notes = append(m.Notes, "A temporary spare: never drive a locked four-wheel driveline on one.")
	}
}

const askBuild = "Radial or bias isn't marked: taken as radial, and the spread covers both. Look at the sidewall and enter which."

// closed is a marking that left its build open, with the build that was said.
func (m *Marking) closed(c Construction) *Marking {
	out, sign := *m, "R"
	if c == Bias {
		sign = "-"
	}
	if i := strings.LastIndexAny(m.Text, "x/"); i > 0 {
		out.Text = m.Text[:i] + sign + m.Text[i+1:]
	}
	out.Construction, out.BuildOpen = c, false
	out.Notes = slices.DeleteFunc(slices.Clone(m.Notes), func(n string) bool { return n == askBuild })
	out.Sentence = out.sentence()
	return &out
}

func (m *Marking) sentence() string {
	about := ""
	if m.Spread > 0 {
		about = "about "
	}
	return m.Text + " (" + systemWords[m.System] + ", " + m.buildWords() + "): " + m.WidthMM.Short(0) + " mm wide on a " +
		m.RimMM.Div(exact.New(254, 10)).Short(1) + " inch rim, " + about + m.DiameterMM.Short(1) + " mm (" + m.DiameterMM.Div(exact.New(254, 10)).Short(2) + " in) across."
}
