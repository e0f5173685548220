// Package catalog holds what the shop's lists are made of: their columns, what
// a cell may hold, and how a row is read for the computations.
//
// A row is text by column, written the same in a table on screen, in CSV and
// in storage. Numbers are exact decimals.
package catalog

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"zorvel/core/changegear"
	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/identify"
	"zorvel/core/regear"
	"zorvel/core/say"
	"zorvel/core/service"
	"zorvel/core/setup"
	"zorvel/core/speedo"
	"zorvel/core/tire"
)

// Lists of the shop.
const (
	GearSets    = "gear_sets"
	ChangeGears = "change_gears"
	SpeedoGears = "speedometer_gears"
	Housings    = "housings"
	SetUp       = "set_up_figures"
	Adapters    = "adapters"
	Tires       = "tires"
	Prices      = "prices"
	Rule        = "rule_of_thumb"
	Factory     = "factory_options"
	Service     = "service_rules"
	Settings    = "settings"
)

// Column types.
const (
	Text    = "text"
	Choice  = "choice"
	Whole   = "whole"
	Number  = "number"
	Money   = "money"
	Teeth   = "teeth"
	Marking = "marking"
	Ratio   = "ratio" // a decimal, a fraction or teeth
)

// Column is a column of a list.
type Column struct {
	Key      string   `json:"key"`
	Name     string   `json:"name"`
	Type     string   `json:"type"`
	Unit     string   `json:"unit,omitempty"`
	Required bool     `json:"required,omitempty"`
	Choices  []Option `json:"choices,omitempty"`
	Default  string   `json:"default,omitempty"`
	Help     string   `json:"help,omitempty"`
	Min      int64    `json:"-"`
	Max      int64    `json:"-"`
	Identity bool     `json:"identity,omitempty"` // tells rows apart
}

// Option is a value of a choice.
type Option struct {
	Value string `json:"value"`
	Words string `json:"words"`
}

// List is one of the shop's lists.
type List struct {
	ID      string   `json:"id"`
	Name    string   `json:"name"`
	For     string   `json:"for"`
	Columns []Column `json:"columns"`
	check   func(Row, *fault.Errors)
}

// Row is a row's cells by column; empty cells are left out.
type Row map[string]string

func options(pairs ...string) []Option {
	var out []Option
	for i := 0; i+1 < len(pairs); i += 2 {
		out = append(out, Option{pairs[i], pairs[i+1]})
	}
	return out
}

var (
	family = Column{Key: "family", Name: "Family", Type: Text, Required: true, Identity: true, Help: "what it fits: one name for all that interchange"}
	shelf  = Column{Key: "shelf", Name: "On shelf", Type: Whole, Max: 9999, Default: "0"}
	price  = Column{Key: "price", Name: "Price", Type: Money, Max: 1_000_000}
	note   = Column{Key: "note", Name: "Note", Type: Text}
)

// Lists returns the shop's lists in the order they are shown.
func Lists() []List { return slices.Concat(gearLists(), otherLists()) }

// setUpList holds what makers say of setting up, by family.
func setUpList() List {
	return List{ID: SetUp, Name: "Set-up figures",
		For: "The maker's limits by family, each with its unit, source and date. The set-up bench checks every trial " +
			"against them; what is missing here is asked for or shown as missing.", Columns: []Column{
			family,
			{Key: "figure", Name: "Figure", Type: Choice, Required: true, Identity: true, Choices: setUpKinds()},
			{Key: "low", Name: "From", Type: Number, Max: 5000},
			{Key: "high", Name: "to", Type: Number, Required: true, Max: 5000, Help: "the most that is allowed, where there is no least"},
			{Key: "unit", Name: "Unit", Type: Choice, Required: true, Default: "mm",
				Choices: options("mm", "mm", "in", "in", "thou", "0.001 in", "N·m", "N·m", "lbf·in", "lbf·in", "lbf·ft",
					"lbf·ft", "kgf·cm", "kgf·cm")},
			{Key: "source", Name: "Source", Type: Text, Required: true, Identity: true, Help: "manual and page"},
			{Key: "date", Name: "As of", Type: Text, Help: "edition or date of the manual"},
			{Key: "marks", Name: "Pinion marks mean", Type: Choice, Choices: markChoices(),
				Help: "with the pinion's depth: how this maker marks pinions"},
			{Key: "mark_unit", Name: "in", Type: Choice, Choices: options("0.01mm", "0.01 mm", "0.001in", "0.001 in", "mm", "mm", "in", "in")},
			note,
		}, check: func(r Row, errs *fault.Errors) {
			if (r["marks"] != "" || r["mark_unit"] != "") && r["figure"] != setup.FigureDepth {
				errs.Add("marks", "goes with the pinion depth figure")
			}
			if err := r.SetUpFigure().Check(); err != nil {
				spread(err, errs)
			}
		}}
}

// gearLists are what gears and their housings are chosen from.
func gearLists() []List {
	return []List{
		{ID: GearSets, Name: "Gear sets", For: "Ring and pinion, low-range and gearcase sets. The identify bench weighs them first; re-gearing chooses among them.", Columns: []Column{
			family,
			{Key: "kind", Name: "Stage", Type: Choice, Required: true, Identity: true, Default: string(identify.RingAndPinion), Choices: options(
				"ring_and_pinion", "ring and pinion", "transfer_case", "transfer case", "gearbox", "gearbox", "planetary", "planetary set", "two_stage", "two-stage axle",
				"hub", "hub", "gearcase", "gearcase", "gear_pair", "gear pair", "chain_pair", "chain pair")},
			{Key: "position", Name: "Position", Type: Text, Identity: true, Help: "transfer case: high, low or front; gearbox: the gear's name"},
			{Key: "construction", Name: "Construction", Type: Text, Identity: true, Default: "pair", Help: "pair, planetary, cluster, chain, pair_planetary, pair_pair or direct"},
			{Key: "teeth", Name: "Teeth and ratio", Type: Teeth, Required: true, Identity: true, Help: "driven first: ring-pinion, as 41-10; sun-ring for a planetary set"},
			{Key: "label", Name: "Label", Type: Text, Help: "the shop's own name or number"},
			{Key: "ring_mm", Name: "Ring gear", Type: Number, Unit: "mm", Min: 0, Max: 2000},
			{Key: "carrier_from", Name: "Carrier from", Type: Number, Max: 50, Help: "smallest ratio that its carrier takes"},
			{Key: "carrier_to", Name: "to", Type: Number, Max: 50, Help: "greatest ratio that its carrier takes"},
			shelf, price,
			{Key: "weight", Name: "Met here", Type: Number, Max: 1_000_000, Default: "1", Help: "how often it is met, against the others: weighs in the identify bench"},
			{Key: "pinion_mm", Name: "Pinion shank", Type: Number, Unit: "mm", Max: 500},
			{Key: "spiders", Name: "Spider gears", Type: Whole, Max: 8},
			{Key: "splines", Name: "Shaft splines", Type: Whole, Max: 100},
			{Key: "tube_mm", Name: "Axle tube", Type: Number, Unit: "mm", Max: 500},
			note,
		}, check: checkGearSet},
		{ID: ChangeGears, Name: "Change gears", For: "Sets of a quick-change final drive: two gears each, two ratios each. The change-gear bench builds its ladder from them.", Columns: []Column{
			family,
			{Key: "name", Name: "Set", Type: Text, Required: true, Identity: true, Help: "as it is called, or the number on its box"},
			{Key: "teeth", Name: "Teeth of the two gears", Type: Teeth, Required: true, Identity: true, Help: "as 24-21; which way round is chosen at the bench"},
			{Key: "wear", Name: "Wear", Type: Text},
			{Key: "place", Name: "Where it lies", Type: Text},
			shelf, price, note,
		}, check: func(r Row, errs *fault.Errors) {
			if _, ok := r.ChangeSet(""); !ok {
				errs.Add("teeth", "two counts from %d to %d, as 24-21", changegear.MinTeeth, changegear.MaxTeeth)
			}
		}},
		{ID: SpeedoGears, Name: "Speedometer gears", For: "Drive gears on the shaft and driven gears on the cable.", Columns: []Column{
			family,
			{Key: "role", Name: "Gear", Type: Choice, Required: true, Identity: true, Choices: options("drive", "drive gear", "driven", "driven gear")},
			{Key: "teeth", Name: "Teeth", Type: Whole, Required: true, Identity: true, Min: 3, Max: 100},
			{Key: "color", Name: "Color", Type: Text, Help: "a hint only; replacement gears are often colored wrong"},
			{Key: "label", Name: "Label", Type: Text, Identity: true},
			shelf, price, note,
		}},
		{ID: Housings, Name: "Speedometer housings", For: "What holds the driven gear, by the teeth it really takes.", Columns: []Column{
			family,
			{Key: "name", Name: "Housing", Type: Text, Required: true, Identity: true},
			{Key: "marked_from", Name: "Marked from", Type: Whole, Min: 1, Max: 100},
			{Key: "marked_to", Name: "to", Type: Whole, Min: 1, Max: 100},
			{Key: "takes_from", Name: "Takes from", Type: Whole, Required: true, Min: 1, Max: 100, Unit: "teeth"},
			{Key: "takes_to", Name: "to", Type: Whole, Required: true, Min: 1, Max: 100, Unit: "teeth"},
			shelf, price, note,
		}, check: func(r Row, errs *fault.Errors) {
			span(r, "takes_from", "takes_to", errs)
			span(r, "marked_from", "marked_to", errs)
		}},
		setUpList(),
		{ID: Adapters, Name: "Speedometer adapters", For: "Boxes between cable and speedometer where no pair of gears fits.", Columns: []Column{
			{Key: "name", Name: "Adapter", Type: Text, Required: true, Identity: true},
			{Key: "ratio", Name: "Turns out per turn in", Type: Ratio, Required: true, Max: 10},
			shelf, price, note,
		}},
	}
}

// otherLists are tires, money, rules and the shop itself.
func otherLists() []List {
	return []List{
		{ID: Tires, Name: "Tires", For: "Tires in use here, with what was measured of them.", Columns: []Column{
			{Key: "marking", Name: "Marking", Type: Marking, Required: true, Identity: true},
			{Key: "label", Name: "Label", Type: Text, Identity: true, Help: "tread or use; tells two of one size apart"},
			{Key: "rollout_mm", Name: "Rollout", Type: Number, Unit: "mm", Max: 600_000},
			{Key: "rollout_turns", Name: "in turns", Type: Whole, Min: 1, Max: 50},
			{Key: "revs_per_km", Name: "Maker's turns", Type: Number, Unit: "per km", Max: 2000},
			{Key: "mass_kg", Name: "With rim", Type: Number, Unit: "kg", Max: 500},
			shelf, price, note,
		}, check: func(r Row, errs *fault.Errors) {
			if _, err := tire.Work(r.Tire()); err != nil {
				spread(err, errs)
			}
		}},
		{ID: Prices, Name: "Labor and prices", For: "What estimates are made of: hours, rates and the small parts. The line that names most wins.", Columns: []Column{
			{Key: "item", Name: "Item", Type: Choice, Required: true, Identity: true, Choices: options(
				regear.ItemLabor, "labor, hours", regear.ItemRate, "hourly rate", regear.ItemKit, "bearings, seals, shims", regear.ItemCarrier, "carrier", regear.ItemOil, "gear oil", regear.ItemCalibration, "calibration")},
			{Key: "axle", Name: "Axle", Type: Choice, Identity: true, Choices: options("solid_rear", "solid rear", "independent_rear", "independent rear", "solid_front", "solid front", "independent_front", "independent front")},
			{Key: "family", Name: "Family", Type: Text, Identity: true},
			{Key: "low", Name: "Low", Type: Number, Required: true, Max: 1_000_000, Help: "money, or hours for labor"},
			{Key: "high", Name: "High", Type: Number, Required: true, Max: 1_000_000},
			note,
		}, check: func(r Row, errs *fault.Errors) { span(r, "low", "high", errs) }},
		{ID: Rule, Name: "Rule of thumb", For: "Ratio by tire diameter as this shop sees it, for a cruise gear of 1. The line with the greatest diameter at or below the tire counts.", Columns: []Column{
			{Key: "from_mm", Name: "Tires from", Type: Number, Unit: "mm", Required: true, Identity: true, Max: 4000},
			{Key: "highway", Name: "Highway", Type: Ratio, Required: true, Max: 50},
			{Key: "mixed", Name: "Mixed", Type: Ratio, Required: true, Max: 50},
			{Key: "trail", Name: "Trail and towing", Type: Ratio, Required: true, Max: 50},
			note,
		}},
		{ID: Factory, Name: "Factory options", For: "What a model line could be ordered with: points of reference beside the schools.", Columns: []Column{
			{Key: "line", Name: "Model line", Type: Text, Required: true, Identity: true},
			{Key: "name", Name: "Option", Type: Text, Required: true, Identity: true},
			{Key: "tire", Name: "Tire", Type: Marking, Required: true, Identity: true},
			{Key: "ratio", Name: "Axle ratio", Type: Ratio, Required: true, Identity: true, Max: 50},
			note,
		}},
		{ID: Service, Name: "Service rules", For: "What is due when, by kind of part. A line here takes the place of the typical one for the same thing; one without an interval takes it away.", Columns: []Column{
			{Key: "kind", Name: "Part", Type: Choice, Required: true, Identity: true, Choices: serviceKinds()},
			{Key: "what", Name: "What", Type: Text, Required: true, Identity: true, Help: "as it is written when it is done: gear oil"},
			{Key: "hours", Name: "Every", Type: Number, Unit: "h", Max: 100_000},
			{Key: "km", Name: "or", Type: Number, Unit: "km", Max: 10_000_000},
			{Key: "months", Name: "or", Type: Number, Unit: "months", Max: 1200},
			{Key: "sessions", Name: "or", Type: Whole, Unit: "sessions", Max: 10_000},
			{Key: "after", Name: "Once after", Type: Text, Identity: true, Help: "as gears fitted; empty: again and again"},
			{Key: "source", Name: "Source", Type: Text, Required: true, Help: "manual and page"},
			note,
		}},
		{ID: Settings, Name: "Shop settings",
			For: "Settings for the whole shop. The currency shows beside every price and estimate, name and address on " +
				"every sheet.", Columns: []Column{
				{Key: "setting", Name: "Setting", Type: Choice, Required: true, Identity: true, Default: "currency",
					Choices: options("currency", "currency", "name", "name of the shop", "address", "address")},
				{Key: "value", Name: "Value", Type: Text, Required: true, Help: "a currency as it is written behind an amount, up to 8 characters"},
			}, check: func(r Row, errs *fault.Errors) {
				if r["setting"] == "currency" && utf8.RuneCountInString(r["value"]) > 8 {
					errs.Add("value", "at most 8 characters, as it is written behind an amount")
				}
			}},
	}
}

func serviceKinds() []Option {
	var out []Option
	for _, k := range service.Kinds() {
		out = append(out, Option{k, strings.ReplaceAll(k, "_", " ")})
	}
	return out
}

// ServiceRule is a rule of what is due.
func (r Row) ServiceRule() service.Rule {
	return service.Rule{Kind: r["kind"], What: r["what"], Hours: r.num("hours").Float(), KM: r.num("km").Float(), Months: r.num("months").Float(), Sessions: r.num("sessions").Float(), After: r["after"], Source: r["source"]}
}

func setUpKinds() []Option {
	var out []Option
	for _, k := range setup.Kinds() {
		out = append(out, Option{k.ID, say.Small(k.Name)})
	}
	return out
}

func markChoices() []Option {
	var out []Option
	for _, c := range setup.Conventions() {
		out = append(out, Option{c.ID, c.Sentence})
	}
	return out
}

// SetUpFigure is a maker's figure for the set-up bench.
func (r Row) SetUpFigure() setup.Figure {
	f := setup.Figure{Figure: r["figure"], Unit: r["unit"], Source: r["source"], Date: r["date"]}
	for key, to := range map[string]**float64{"low": &f.Low, "high": &f.High} {
		if r[key] != "" {
			v := r.num(key).Float()
			*to = &v
		}
	}
	return f
}

// Starter is what a shop without a list of its own may begin from: commonly
// made pairs and counts, without family, price and shelf; nil for lists that
// have none.
func Starter(list string) []Row {
	var out []Row
	switch list {
	case GearSets:
		for _, g := range regear.CommonSets() {
			out = append(out, Row{"kind": string(identify.RingAndPinion), "construction": "pair", "teeth": fmt.Sprintf("%d-%d", g.Ring, g.Pinion), "label": g.Ratio().Decimal(2)})
		}
	case Service:
		for _, x := range service.Typical() {
			row := Row{"kind": x.Kind, "what": x.What, "after": x.After, "source": x.Source}
			for key, v := range map[string]float64{"hours": x.Hours, "km": x.KM, "months": x.Months, "sessions": x.Sessions} {
				if v > 0 {
					row[key] = strconv.FormatFloat(v, 'f', -1, 64)
				}
			}
			out = append(out, row)
		}
	case SpeedoGears:
		drives, driven := speedo.CommonGears()
		for _, g := range drives {
			out = append(out, Row{"role": "drive", "teeth": strconv.Itoa(g.Teeth)})
		}
		for _, g := range driven {
			out = append(out, Row{"role": "driven", "teeth": strconv.Itoa(g.Teeth)})
		}
	case Rule:
		for _, r := range regear.DefaultRule() {
			out = append(out, RuleRow(r))
		}
	}
	return out
}

// Find returns a list by its ID.
func Find(id string) (List, bool) {
	for _, l := range Lists() {
		if l.ID == id {
			return l, true
		}
	}
	return List{}, false
}

// Limits in characters: of a cell, and of all that tells a row apart.
const (
	maxCell     = 200
	maxIdentity = 400
)

var teethText = regexp.MustCompile(`^\d{1,4}([\s:/x×-]+\d{1,4}){0,3}$`)

// Check reads cells as they were typed: it trims, writes numbers the one way,
// fills in defaults and refuses what can't be. Fields of the faults are the
// columns' keys.
func (l List) Check(in Row) (Row, error) {
	out := Row{}
	var errs fault.Errors
	known := map[string]bool{}
	for _, c := range l.Columns {
		known[c.Key] = true
		v := oneLine(in[c.Key])
		if v == "" {
			v = c.Default
		}
		if v == "" {
			if c.Required {
				errs.Add(c.Key, "is needed%s", hint(c))
			}
			continue
		}
		if utf8.RuneCountInString(v) > maxCell {
			errs.Add(c.Key, "at most %d characters", maxCell)
			continue
		}
		n, problem := c.read(v)
		if problem != "" {
			errs.Add(c.Key, "%s", problem)
			continue
		}
		out[c.Key] = n
	}
	for k := range in {
		if !known[k] {
			errs.Add(k, "there is no such column; the columns are %s", strings.Join(l.Keys(), ", "))
		}
	}
	if len(errs) == 0 && l.check != nil {
		l.check(out, &errs)
	}
	if utf8.RuneCountInString(l.Identity(out)) > maxIdentity {
		for _, c := range l.Columns {
			if c.Identity && c.Type == Text {
				errs.Add(c.Key, "too long together with what else tells the row apart: at most %d characters in all", maxIdentity)
				break
			}
		}
	}
	return out, errs.Err()
}

// oneLine trims a cell; what can't be seen becomes a space.
func oneLine(v string) string {
	return strings.TrimSpace(strings.Map(func(r rune) rune {
		if unicode.IsControl(r) {
			return ' '
		}
		return r
	}, v))
}

func hint(c Column) string {
	if c.Help != "" {
		return ": " + c.Help
	}
	return ""
}

// Keys lists the columns' keys.
func (l List) Keys() []string {
	out := make([]string, len(l.Columns))
	for i, c := range l.Columns {
		out[i] = c.Key
	}
	return out
}

// Identity tells a row apart from all others of its list.
func (l List) Identity(r Row) string {
	var parts []string
	for _, c := range l.Columns {
		if c.Identity {
			parts = append(parts, strings.ToLower(r[c.Key]))
		}
	}
	return strings.Join(parts, "|")
}

// read writes a cell the one way, or says what would be right.
func (c Column) read(v string) (string, string) {
	switch c.Type {
	case Choice:
		for _, o := range c.Choices {
			if strings.EqualFold(v, o.Value) || strings.EqualFold(v, o.Words) {
				return o.Value, ""
			}
		}
		names := make([]string, len(c.Choices))
		for i, o := range c.Choices {
			names[i] = o.Value
		}
		return "", "one of " + strings.Join(names, ", ")
	case Whole:
		n, err := strconv.ParseInt(v, 10, 64)
		if err != nil || n < c.Min || n > c.Max {
			return "", fmt.Sprintf("a whole number from %d to %d", c.Min, c.Max)
		}
		return strconv.FormatInt(n, 10), ""
	case Number, Money:
		n, err := exact.Parse(decimal(v))
		if err != nil || strings.Contains(v, "/") || n.Cmp(exact.Int(c.Min)) < 0 || n.Cmp(exact.Int(c.Max)) > 0 {
			return "", fmt.Sprintf("a number from %d to %d", c.Min, c.Max)
		}
		if c.Type == Money {
			return n.Decimal(2), ""
		}
		return n.Short(6), ""
	case Ratio:
		n, err := exact.Parse(strings.ReplaceAll(decimal(v), "-", "/"))
		if err != nil || n.Sign() <= 0 || n.Cmp(exact.Int(c.Max)) > 0 {
			return "", fmt.Sprintf("a ratio above 0, up to %d, as 4.1 or 41/10", c.Max)
		}
		return strings.ReplaceAll(decimal(v), "-", "/"), ""
	case Teeth:
		if !teethText.MatchString(v) {
			return "", "tooth counts, driven first, as 41-10"
		}
		f := strings.FieldsFunc(v, func(r rune) bool { return r < '0' || r > '9' })
		for i, x := range f {
			n, _ := strconv.Atoi(x) // the expression lets only digits through
			f[i] = strconv.Itoa(n)
		}
		return strings.Join(f, "-"), ""
	case Marking:
		m, err := tire.Parse(v)
		if err != nil {
			return "", err.(*fault.Error).Message
		}
		out := m.Text
		if m.Load != "" {
			out += " " + m.Load + m.Speed
		}
		if again, err := tire.Parse(out); err != nil || !again.DiameterMM.Equal(m.DiameterMM) {
			return m.Text, ""
		}
		return out, ""
	}
	return strings.Join(strings.Fields(v), " "), ""
}

// decimal takes a decimal comma.
func decimal(v string) string {
	v = strings.ReplaceAll(strings.ReplaceAll(v, " ", ""), "−", "-")
	if strings.Count(v, ",") == 1 && !strings.Contains(v, ".") {
		v = strings.Replace(v, ",", ".", 1)
	}
	return v
}

func span(r Row, from, to string, errs *fault.Errors) {
	if r[from] == "" || r[to] == "" {
		if r[from] != r[to] {
			errs.Add(to, "enter both ends, or neither")
		}
		return
	}
	if r.num(from).Cmp(r.num(to)) > 0 {
		errs.Add(to, "not below %s", r[from])
	}
}

func spread(err error, errs *fault.Errors) {
	switch e := err.(type) {
	case *fault.Error:
		*errs = append(*errs, e)
	case fault.Errors:
		*errs = append(*errs, e...)
	}
}

func checkGearSet(r Row, errs *fault.Errors) {
	span(r, "carrier_from", "carrier_to", errs)
	if err := identify.CheckEntry(r.Stage(), r.Entry()); err != nil {
		var list fault.Errors
		spread(err, &list)
		for _, e := range list {
			errs.Add(strings.TrimPrefix(e.Field, "stage/"), "%s", e.Message)
		}
	}
	if r["kind"] == string(identify.TransferCase) && !slices.Contains([]string{"high", "low", "front"}, r["position"]) {
		errs.Add("position", "high, low or front")
	}
}

func (r Row) num(key string) exact.Number {
	n, err := exact.Parse(r[key])
	if err != nil {
		return exact.Number{}
	}
	return n
}

func (r Row) figure(key string) exact.Figure { return exact.Figure{Number: r.num(key)} }

func (r Row) whole(key string) int {
	n, _ := strconv.Atoi(r[key]) // Check let only whole numbers through
	return n
}

// Stage is the stage that a gear set belongs to.
func (r Row) Stage() identify.Stage {
	return identify.Stage{Kind: identify.Kind(r["kind"]), Position: r["position"]}
}

// Entry is a gear set for the identify bench.
func (r Row) Entry() identify.CatalogEntry {
	e := identify.CatalogEntry{Construction: r["construction"], Weight: r.num("weight").Float()}
	for _, t := range strings.Split(r["teeth"], "-") {
		n, _ := strconv.Atoi(t)
		e.Teeth = append(e.Teeth, n)
	}
	return e
}

// Ratio is a gear set's ratio, where the row holds one.
func (r Row) Ratio() (exact.Number, bool) {
	if r["teeth"] == "" || r["construction"] == "" {
		return exact.Number{}, false
	}
	v, err := identify.EntryRatio(r.Stage(), r.Entry())
	return v, err == nil
}

// ChangeSet is a set of change gears; false where the row has no two counts that
// could be.
func (r Row) ChangeSet(id string) (changegear.Set, bool) {
	t := r.Entry().Teeth
	if len(t) != 2 || min(t[0], t[1]) < changegear.MinTeeth || max(t[0], t[1]) > changegear.MaxTeeth {
		return changegear.Set{}, false
	}
	return changegear.Set{ID: id, Family: r["family"], Name: r["name"], Teeth: [2]int{t[0], t[1]}, Wear: r["wear"], Place: r["place"], Shelf: r.whole("shelf")}, true
}

// GearSet is a ring and pinion set; false for other sets.
func (r Row) GearSet(id string) (regear.GearSet, bool) {
	e := r.Entry()
	if r["kind"] != string(identify.RingAndPinion) || e.Construction != "pair" || len(e.Teeth) != 2 {
		return regear.GearSet{}, false
	}
	g := regear.GearSet{ID: id, Family: r["family"], Ring: e.Teeth[0], Pinion: e.Teeth[1], RingMM: r.num("ring_mm").Float(), Shelf: r.whole("shelf"), Price: r.figure("price"),
		PinionMM: r.num("pinion_mm").Float(), Spiders: r.whole("spiders"), Splines: r.whole("splines"), TubeMM: r.num("tube_mm").Float()}
	if r["carrier_from"] != "" {
		g.Carrier = &regear.Span{From: r.figure("carrier_from"), To: r.figure("carrier_to")}
	}
	return g, true
}

// LowSet is a low-range set of a transfer case; false for other sets.
func (r Row) LowSet(id string) (regear.LowSet, bool) { return r.rangeSet(id, "low") }

// HighSet is a high-range set of a transfer case; false for other sets.
func (r Row) HighSet(id string) (regear.LowSet, bool) { return r.rangeSet(id, "high") }

func (r Row) rangeSet(id, position string) (regear.LowSet, bool) {
	e := r.Entry()
	if r["kind"] != string(identify.TransferCase) || r["position"] != position {
		return regear.LowSet{}, false
	}
	var n exact.Number
	switch {
	case (e.Construction == "pair" || e.Construction == "chain") && len(e.Teeth) == 2 && e.Teeth[1] > 0:
		n = exact.New(int64(e.Teeth[0]), int64(e.Teeth[1]))
	case e.Construction == "planetary" && len(e.Teeth) == 2:
		n = exact.Int(1).Add(exact.New(int64(e.Teeth[1]), int64(e.Teeth[0])))
	case e.Construction == "cluster" && len(e.Teeth) == 4:
		n = exact.New(int64(e.Teeth[1]), int64(e.Teeth[0])).Mul(exact.New(int64(e.Teeth[3]), int64(e.Teeth[2])))
	default:
		return regear.LowSet{}, false
	}
	name := r["label"]
	if name == "" {
		name = r["family"] + " " + r["teeth"]
	}
	return regear.LowSet{ID: id, Family: r["family"], Name: name, Ratio: exact.Figure{Number: n}, Shelf: r.whole("shelf"), Price: r.figure("price")}, true
}

// Tire is a row of the tires.
func (r Row) Tire() tire.Tire {
	return tire.Tire{Marking: r["marking"], RolloutMM: r.figure("rollout_mm"), RolloutTurns: r.whole("rollout_turns"), RevsPerKM: r.figure("revs_per_km"), MassKG: r.num("mass_kg").Float()}
}

// Stocked is a tire with its name.
func (r Row) Stocked() regear.Stocked {
	return regear.Stocked{Name: strings.TrimSpace(r["marking"] + " " + r["label"]), Tire: r.Tire()}
}

// Price is a row of the price list.
func (r Row) Price() regear.Price {
	return regear.Price{Item: r["item"], Axle: r["axle"], Family: r["family"], Low: r.figure("low"), High: r.figure("high"), Note: r["note"]}
}

// Rule is a row of the rule of thumb.
func (r Row) Rule() regear.RuleRow {
	return regear.RuleRow{FromMM: r.figure("from_mm"), Highway: r.figure("highway"), Mixed: r.figure("mixed"), Trail: r.figure("trail")}
}

// Factory is a row of the factory options.
func (r Row) Factory() regear.Factory {
	return regear.Factory{Line: r["line"], Name: r["name"], Tire: r["tire"], Ratio: r.figure("ratio"), Note: r["note"]}
}

// SpeedoGear is a drive or driven gear.
func (r Row) SpeedoGear() speedo.Gear {
	return speedo.Gear{Teeth: r.whole("teeth"), Name: r["label"], Color: r["color"], Shelf: r.whole("shelf")}
}

// Housing is a row of the housings.
func (r Row) Housing() speedo.Housing {
	return speedo.Housing{Name: r["name"], MarkedFrom: r.whole("marked_from"), MarkedTo: r.whole("marked_to"), TakesFrom: r.whole("takes_from"), TakesTo: r.whole("takes_to"), Shelf: r.whole("shelf")}
}

// Adapter is a row of the adapters.
func (r Row) Adapter() speedo.Adapter {
	return speedo.Adapter{Name: r["name"], Ratio: r.figure("ratio"), Shelf: r.whole("shelf")}
}

// RuleRow writes a row of the rule of thumb as the shop's list holds it.
func RuleRow(r regear.RuleRow) Row {
	return Row{"from_mm": r.FromMM.Short(1), "highway": r.Highway.Short(2), "mixed": r.Mixed.Short(2), "trail": r.Trail.Short(2)}
}
