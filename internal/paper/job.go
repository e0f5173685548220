package paper

import (
	"fmt"
	"strings"

	"zorvel/api"
	"zorvel/core/catalog"
	"zorvel/core/driveline"
	"zorvel/core/exact"
	"zorvel/core/identify"
	"zorvel/core/regear"
	"zorvel/core/say"
	"zorvel/core/service"
	"zorvel/internal/jobfacts"
)

// Job is a job to be printed: for the shop, or for the owner.
type Job struct {
	Page    api.Job
	Unit    api.Unit
	Doc     *driveline.Document
	Due     *service.Answer
	Trouble string // why nothing can be said of what is due
	Head    catalog.Letterhead
	Owner   bool
	Told    []jobfacts.Told // when it came in
	Photos  []Photo
	Rate    *regear.Price // the shop's hourly rate; without it labor has no price yet
}

// Print writes it.
func (sh *Job) Print() ([]byte, error) {
	j := sh.Page.Job
	title := "Job sheet: " + j.Unit
	if sh.Owner {
		title = "For the owner of " + j.Unit
	}
	under := fmt.Sprintf("Came in %s", say.Day(j.At))
	if j.ClosedAt != nil {
		under += ", handed over " + say.Day(*j.ClosedAt)
	}
	if !sh.Owner {
		under += fmt.Sprintf("; assigned to %s, %s h", j.Who, say.Trim(j.Minutes/60, 1))
	}
	p := New(sh.Head, title, under+".")
	for _, f := range sh.Told {
		p.Text(f.Title + ": " + f.Text)
	}
	p.Head("Complaint")
	p.Text(j.Complaint)
	if sh.Owner {
		sh.forOwner(p)
	} else {
		sh.forShop(p)
	}
	p.photos(sh.Photos)
	if sh.Page.HandOver != "" {
		p.Head("Note to the owner")
		p.Text(sh.Page.HandOver)
	}
	p.Ln(10)
	p.SetFont("go", "", 9)
	p.CellFormat(p.Width/2-6, 5, "Date", "T", 0, "L", false, 0, "")
	p.CellFormat(12, 5, "", "", 0, "L", false, 0, "")
	p.CellFormat(p.Width/2-6, 5, "Signature", "T", 1, "L", false, 0, "")
	return p.Bytes()
}

// forShop is everything: the machine, every ratio with how sure it is, the log,
// decisions and what is due.
func (sh *Job) forShop(p *Sheet) {
	p.Head("The machine")
	p.Machine(sh.Doc, ratiosOf(sh.Unit))
	p.Head("Gear report")
	_, uncounted := p.ratios(sh.Unit)
	if len(uncounted) > 0 {
		p.Text("Not counted: " + strings.Join(uncounted, ", ") + ".")
	}
	sh.log(p)
	if m := sh.Page.Job.Minutes; m > 0 {
		p.Head("Labor")
		p.Text(labor(m, sh.Rate, sh.Head.Currency))
	}
	if len(sh.Page.Decisions) > 0 {
		p.Head("Decisions")
		for _, d := range sh.Page.Decisions {
			p.Point("•", d.Title+" ("+d.By+", "+say.Day(d.At)+")")
		}
	}
	for _, c := range sh.Page.Cards {
		state := "in progress"
		if c.Closed {
			state = "closed"
		}
		p.Point("☑", c.Title+": "+state)
	}
	if len(sh.Page.Open) > 0 {
		p.Head("Open items")
		for _, o := range sh.Page.Open {
			p.Point("□", o.What+": "+o.Why)
		}
	}
	sh.dueList(p)
}

// ratiosOf are the settled ratios of a unit's parts, short, for the drawing.
func ratiosOf(u api.Unit) map[string]string {
	out := map[string]string{}
	for _, v := range u.Stages {
		if !v.Present || v.Part == "" {
			continue
		}
		text := api.Value(v.About)
		if v.Label != nil {
			text = v.Label.Label
		}
		if text == "" {
			continue
		}
		if was := out[v.Part]; was != "" {
			text = was + " · " + text
		}
		out[v.Part] = text
	}
	for id, text := range out {
		if strings.Count(text, " · ") > 1 { // a gearbox's gears stand in the report
			out[id] = ""
		}
	}
	return out
}

func (sh *Job) log(p *Sheet) {
	p.Head("Cause and correction")
	n := 0
	for _, w := range sh.Page.Work {
		if text := workWords(w, sh.partName(w.Part)); text != "" {
			p.Point("•", text+" ("+w.By+", "+say.Day(w.DoneAt)+")")
			n++
		}
	}
	if n == 0 {
		p.Text("Nothing entered yet.")
	}
}

// labor is the hours that were entered and what they cost by the shop's rate.
func labor(minutes float64, rate *regear.Price, currency string) string {
	text := say.Trim(minutes/60, 2)
	hours, err := exact.Parse(text)
	if err != nil || rate == nil {
		return text + " h. No price yet: the list Labor and prices has no hourly rate."
	}
	low, high := rate.Low.Number, rate.High.Number
	each, total := money(low, currency), money(hours.Mul(low), currency)
	if high.Cmp(low) > 0 {
		each, total = low.Decimal(2)+" to "+money(high, currency), hours.Mul(low).Decimal(2)+" to "+money(hours.Mul(high), currency)
	}
	return text + " h at " + each + ": " + total + "."
}

func (sh *Job) partName(id string) string {
	for i := range sh.Doc.Parts {
		if sh.Doc.Parts[i].ID == id {
			return sh.Doc.Parts[i].Called()
		}
	}
	return id
}

// workWords is a line of a job in words; empty for what only moves it on.
func workWords(w api.Work, part string) string {
	at := ""
	if part != "" {
		at = part + ": "
	}
	switch w.Kind {
	case api.WorkKindFinding:
		return at + "found: " + w.Text
	case api.WorkKindWork:
		if w.Minutes != nil && *w.Minutes > 0 {
			return at + w.Text + fmt.Sprintf(", %s h", say.Trim(*w.Minutes/60, 1))
		}
		return at + w.Text
	case api.WorkKindNote:
		return at + w.Text
	case api.WorkKindService:
		return strings.TrimSuffix(at+"service done: "+w.What+". "+w.Text, " ")
	case api.WorkKindMeter:
		var list []string
		for _, x := range []struct {
			v    *float64
			unit string
		}{{w.Km, "km"}, {w.Hours, "h"}, {w.Sessions, "sessions"}} {
			if x.v != nil {
				list = append(list, say.Trim(*x.v, 1)+" "+x.unit)
			}
		}
		if w.Meter != nil {
			list = append(list, strings.ReplaceAll(*w.Meter, "_", " "))
		}
		return "meter reading: " + strings.Join(list, ", ")
	}
	return ""
}

var dueSigns = map[string]string{service.Overdue: "!", service.Soon: "△", service.Later: "•"}

// due writes one service.
func (p *Sheet) due(d service.Due) {
	p.Point(dueSigns[d.State], strings.Trim(say.Capital(d.What)+", "+say.Small(d.Name), ", ")+": "+d.Words+".")
}

// ratios writes what was counted of a unit, each with how sure it is. It returns how many
// there are, and the names of those that nobody has counted.
func (p *Sheet) ratios(u api.Unit) (counted int, uncounted []string) {
	widths := []float64{p.Width * 0.45, p.Width * 0.2, p.Width * 0.35}
	p.Row("B", widths, "Ratio", "", "How sure")
	for _, v := range u.Stages {
		if !v.Present {
			continue
		}
		if v.State == identify.Unknown {
			uncounted = append(uncounted, say.Small(v.Name))
			continue
		}
		value, sure := api.Value(v.About), v.State.Words()
		if v.Label != nil {
			value = v.Label.Label
			if v.Label.Probability > 0 {
				sure += ", " + say.Chance(v.Label.Probability)
			}
		}
		p.Row("", widths, v.Name, value, sure)
		counted++
	}
	return counted, uncounted
}

// dueList is what is due, in words; what is not on record is for the shop alone.
func (sh *Job) dueList(p *Sheet) {
	p.Head("Due")
	n := 0
	unknown := map[string][]string{}
	var order []string
	for _, d := range sh.Due.Due {
		if d.State == service.Unknown {
			if unknown[d.What] == nil {
				order = append(order, d.What)
			}
			unknown[d.What] = append(unknown[d.What], say.Small(d.Name))
			continue
		}
		p.due(d)
		n++
	}
	switch {
	case sh.Trouble != "":
		p.Text("It can't be worked out: " + sh.Trouble)
	case n == 0:
		p.Text("No service on record yet: see the maker's manual.")
	}
	if sh.Owner || len(order) == 0 {
		return
	}
	var list []string
	for _, what := range order {
		list = append(list, what+" ("+strings.Join(unknown[what], ", ")+")")
	}
	p.Text("No date on record for: " + strings.Join(list, "; ") + ".")
}

// forOwner is what was found and done, what is due, and how to drive on, in plain
// words.
func (sh *Job) forOwner(p *Sheet) {
	sh.log(p)
	if len(sh.Page.Decisions) > 0 {
		p.Head("Decisions")
		for _, d := range sh.Page.Decisions {
			p.Point("•", strings.TrimPrefix(d.Title, "Fault: "))
		}
	}
	sh.dueList(p)
	fitted, boat := false, sh.Doc.Lies == driveline.Boat
	for _, w := range sh.Page.Work {
		fitted = fitted || w.Kind == api.WorkKindService && w.What == service.GearsFitted
	}
	for _, d := range sh.Page.Decisions {
		fitted = fitted || d.Kind == "setup" || d.Kind == "regear"
	}
	if boat {
		p.Head("On the water with it")
	} else {
		p.Head("On the road with it")
	}
	switch {
	case boat:
		p.Point("•", "Shift crisply and at the lowest idle. Look at the cooling stream whenever it starts.")
		p.Point("•", "Water in the gear oil, a weak stream or a new noise: stop, and call.")
	case fitted:
		p.Point("•", "New gears run in: the first 800 km in short trips, no full load, no long fast drives; let the axle cool after the first 20 minutes. Then its oil is changed. The maker's manual comes first.")
		p.Point("•", "A whine that grows, a clunk, heat at an axle, oil underneath: stop, and call.")
	default:
		p.Point("•", "A new noise, heat at a hub or axle, oil underneath, or shifting that changes: stop, and call.")
	}
	if !boat {
		p.Point("•", "Towing: only as the maker's manual says. In neutral a gearbox or transfer case may get no oil while its wheels turn.")
	}
}
