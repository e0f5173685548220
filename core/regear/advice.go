package regear

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"

	"zorvel/core/driveline/match"
	"zorvel/core/say"
)

// advise sorts the candidates and recommends one, with what speaks for and
// against it.
func (p *planner) advise(out *Plan) {
	sort.SliceStable(out.Candidates, func(i, k int) bool {
		a, b := &out.Candidates[i], &out.Candidates[k]
		if (a.Refused == "") != (b.Refused == "") {
			return a.Refused == ""
		}
		if a.Score != b.Score {
			return a.Score < b.Score
		}
		if a.High != nil && b.High != nil && a.Complete && b.Complete {
			return a.High.Cmp(*b.High) < 0
		}
		return a.ID < b.ID
	})
	p.oneLineALabel(out)
	p.heedSchools(out)
	best := &out.Candidates[0]
	v := out.variant(best.Variant)
	a := Advice{Candidate: best.ID, For: []string{}, Against: []string{}}
	for i := 1; i < len(out.Candidates); i++ {
		if c := &out.Candidates[i]; c.Refused == "" && c.Variant != best.Variant {
			a.Runner = c.ID
			break
		}
	}
	a.Sentence = p.recommendation(best, v, out)
	if best.Refused == "" && out.choice() && len(best.Schools) == 0 {
		a.Sentence += " " + p.outweighed(best, out)
	}
	unsettled := p.trust(&a)
	p.weigh(&a, best, v, out)
	a.Sure = p.sure(a.Runner, best, out)
	if len(unsettled) > 0 {
		a.Sure = fmt.Sprintf("First settle what is in the %s: its readings disagree. %s", sayAll(unsettled), a.Sure)
	}
	out.Advice = a
}

// partly says which axle gets what where the other keeps its gears.
func (p *planner) partly(c *Candidate) string {
	at, g := p.secondary, c.Front
	if slices.Contains(c.Keeps, p.secondary) {
		at, g = p.primary, c.Rear
	}
	return fmt.Sprintf("%s in the %s only; the %s stays as it is", g.Label(), at+" axle", map[string]string{"front": "rear", "rear": "front"}[at])
}

// oneLineALabel keeps the best of the sets that bear one label and do the same; the
// others are named with it.
func (p *planner) oneLineALabel(out *Plan) {
	var kept []Candidate
	at := map[string]int{}
	for _, c := range out.Candidates {
		key := c.label()
		i, ok := at[key]
		if !ok {
			at[key] = len(kept)
			kept = append(kept, c)
			continue
		}
		k := &kept[i]
		k.Also = append(k.Also, c.Name)
		for _, s := range c.Schools {
			if !slices.Contains(k.Schools, s) {
				k.Schools = append(k.Schools, s)
			}
		}
		out.folded = append(out.folded, c)
	}
	out.Candidates = kept
}

// label is what a candidate is told by: the labels of its sets, and what stays.
func (c *Candidate) label() string {
	switch {
	case c.Rear == nil:
		return c.ID
	case c.Front == nil:
		return c.Rear.Ratio().Decimal(2)
	}
	return c.Rear.Ratio().Decimal(2) + " " + c.Front.Ratio().Decimal(2) + " " + strings.Join(c.Keeps, " ") + " " + fmt.Sprint(c.Refused != "")
}

// heedSchools puts first what a method picks where the weighing alone is barely
// ahead with other gears that none picks. Leaving the gears costs nothing: nothing is
// bought for a pick that is no better.
func (p *planner) heedSchools(out *Plan) {
	best := out.Candidates[0]
	if best.Refused != "" || len(best.Schools) > 0 || best.ID == "leave" {
		return
	}
	at := -1
	for i := range out.Candidates {
		c := &out.Candidates[i]
		if c.Refused != "" || c.Score > best.Score+barely || len(c.Schools) == 0 {
			continue
		}
		if at < 0 || len(c.Schools) > len(out.Candidates[at].Schools) {
			at = i
		}
	}
	if at > 0 {
		c := out.Candidates[at]
		out.Candidates = slices.Insert(slices.Delete(out.Candidates, at, at+1), 0, c)
	}
}

// barely is a lead in points that decides nothing by itself.
const barely = 1.0

// outweighed says in one sentence what outweighs the methods where none picks the
// best.
func (p *planner) outweighed(best *Candidate, out *Plan) string {
	var rival *Candidate
	for i := range out.Candidates {
		if c := &out.Candidates[i]; c.Refused == "" && len(c.Schools) > 0 && (rival == nil || c.Score < rival.Score) {
			rival = c
		}
	}
	if rival == nil {
		return "No method picks anything that can be fitted."
	}
	type extra struct {
		text   string
		points float64
	}
	mine := map[string]float64{}
	for _, x := range best.Points {
		mine[x.What] += x.Points
	}
	var list []extra
	for _, x := range rival.Points {
		if d := x.Points - mine[x.What]; d > 0.3 {
			list = append(list, extra{strings.TrimSuffix(say.Small(x.Text), "."), d})
		}
	}
	sort.SliceStable(list, func(i, k int) bool { return list[i].points > list[k].points })
	name := rival.Name
	if rival.ID == "leave" {
		name = "leaving the gears"
	}
	text := methodsFor(len(rival.Schools), out.answering()) + " " + name
	if len(list) == 0 {
		return text + ", which is about as good."
	}
	why := list[0].text
	if len(list) > 1 && list[1].points > 1 {
		why += "; and " + list[1].text
	}
	return text + "; what outweighs it: " + why + "."
}

var countWords = []string{"None", "One", "Two", "Three", "Four"}

func methodsPick(n, of int) string {
	verb := "pick"
	if n == 1 {
		verb = "picks"
	}
	if n == of {
		return say.Capital(map[int]string{1: "the one method with an answer picks it.", 2: "both methods pick it.", 3: "all three methods pick it.", 4: "all four methods pick it."}[n])
	}
	return fmt.Sprintf("%s of %s methods %s it.", countWords[n], strings.ToLower(countWords[of]), verb)
}

func methodsFor(n, of int) string {
	verb := "pick"
	if n == 1 {
		verb = "picks"
	}
	return fmt.Sprintf("%s of %s methods %s", countWords[n], strings.ToLower(countWords[of]), verb)
}

// answering is how many of the methods pick something.
func (o *Plan) answering() int {
	n := 0
	for _, s := range o.Schools {
		if s.Pick != "" {
			n++
		}
	}
	return n
}

// recommendation says what to do.
func (p *planner) recommendation(best *Candidate, v *Variant, out *Plan) string {
	leave := best.ID == "leave"
	text := ""
	switch {
	case best.Refused != "":
		text = "Nothing here can be recommended: " + best.Refused
	case leave && math.Abs(v.Against) < 0.5 && p.apart() != nil:
		text = "Leave the gears, no set does better: the new tires change next to nothing, but the axles already differ. " + p.apart().Verdict
	case leave && math.Abs(v.Against) < 0.5:
		text = "Leave the gears: the new tires change next to nothing."
	case leave && len(out.Candidates) == 1:
		text = "The catalog holds no gear set for this axle, so only leaving it can be weighed."
	case leave && !p.nearer(out):
		text = fmt.Sprintf("Leave the gears at %s: they act %s %% %s than stock, and no set in the catalog comes nearer.",
			v.Ratio.Decimal(2), say.Trim(math.Abs(v.Against), 1), longer(v.Against))
	case leave:
		text = fmt.Sprintf("Leave the gears at %s: acting %s %% %s than stock does not outweigh the work.", v.Ratio.Decimal(2), say.Trim(math.Abs(v.Against), 1), longer(v.Against))
	case best.Change != nil:
		text = best.Name + "."
	case p.several():
		text = fmt.Sprintf("Fit %s: %s are opened.", best.Name, sayAll(lowered(best.Opens)))
		if len(best.Opens) == 1 {
			text = fmt.Sprintf("Fit %s: only the %s is opened.", best.Name, lowered(best.Opens)[0])
		}
	case p.secondary != "" && len(best.Keeps) > 0:
		text = fmt.Sprintf("Fit %s.", p.partly(best))
	case p.secondary != "":
		text = fmt.Sprintf("Fit %s, front and rear together.", best.Name)
		if strings.Contains(best.Name, " front") {
			text = fmt.Sprintf("Fit %s.", best.Name)
		}
	default:
		text = fmt.Sprintf("Fit %s.", best.Name)
	}
	if best.Rear != nil && best.Rear.Common {
		text = strings.TrimSuffix(text, ".") + " if it is made for this housing: a commonly made pair, in none of the shop's lists."
	}
	return text
}

// weigh gathers what speaks for and against the best.
func (p *planner) weigh(a *Advice, best *Candidate, v *Variant, out *Plan) {
	speed := fmt.Sprintf("%s rpm at %s in gear %s", say.Trim(v.CruiseRPM, 0), p.speed(p.q.Cruise.KMH, 0), out.CruiseGear)
	a.For = append(a.For, fmt.Sprintf("Acts like %s on the stock tire, which had %s: %s %% thrust in every gear against stock.", v.Effective.Decimal(2), p.stockRatio.Decimal(2), say.Signed(v.Against, 1)))
	switch v.InBand {
	case "in":
		a.For = append(a.For, "Cruises within the rpm range: "+speed+".")
	case "below", "above":
		a.Against = append(a.Against, "Cruises "+v.InBand+" the band: "+speed+".")
	default:
		a.For = append(a.For, "Cruises at "+speed+" ("+say.Trim(out.Before.CruiseRPM, 0)+" before, "+say.Trim(out.TiresOnly.CruiseRPM, 0)+" with the tires alone).")
	}
	if n := len(best.Schools); !out.choice() {
		a.Against = append(a.Against, out.Agreement)
	} else if n > 0 {
		a.For = append(a.For, methodsPick(n, out.answering()))
	} else {
		a.Against = append(a.Against, p.outweighed(best, out))
	}
	if best.Match != nil {
		if best.Match.Level == "match" {
			a.For = append(a.For, best.Match.Verdict)
		} else {
			a.Against = append(a.Against, best.Match.Verdict+" "+best.Match.Do)
		}
	}
	if m := best.NextMatch; m != nil {
		text := fmt.Sprintf("With the %s center that comes next: %s", strings.ReplaceAll(p.q.NextCenter, "_", " "), m.Verdict)
		if m.Level == "match" || m.Level == "tolerated" {
			a.For = append(a.For, text)
		} else {
			a.Against = append(a.Against, text)
		}
	}
	for _, f := range best.Carriers {
		if f.State == "fits" {
			a.For = append(a.For, f.Text)
		} else {
			a.Against = append(a.Against, f.Text)
		}
	}
	if best.ID == "leave" {
		a.Against = append(a.Against, p.leaveCosts(out)...)
		a.For = append(a.For, "Costs nothing but making the speedometer true.")
	} else {
		for _, at := range []string{p.primary, p.secondary} {
			if at != "" && p.doubt(at) != nil {
				a.Against = append(a.Against,
					fmt.Sprintf("The family of the %s axle isn't named, and the installed ratio comes in %s. Gears of one family "+
						"don't fit another's housing: name the family before you order.", at, sayAll(p.doubt(at))))
			}
		}
		a.Against = append(a.Against, p.against(best, v, out)...)
		if best.Shelf && best.Change == nil {
			a.For = append(a.For, "Everything is on the shelf.")
		}
		if best.High != nil {
			a.Against = append(a.Against, fmt.Sprintf("Costs %s to %s by the shop's list; leaving the gears costs nothing but making the speedometer true.", best.Low.Decimal(2), strings.TrimSpace(best.High.Decimal(2)+" "+out.Currency)))
		}
	}
}

// sure says how far the best is ahead of the runner-up.
func (p *planner) sure(runner string, best *Candidate, out *Plan) string {
	switch {
	case best.Refused != "":
		return "Nothing is sure until front and rear can be brought together."
	case runner == "":
		return "There is no other candidate to compare with."
	}
	second := out.find(runner)
	gap := second.Score - best.Score
	how := "clearly"
	switch {
	case gap < 1 || (gap < 4 && gap < out.Change.Spread):
		how = "barely"
	case gap < 4 || best.has("match edge"):
		how = "by a little"
	}
	name := second.Name
	if second.ID == "leave" {
		name = "leaving the gears as they are"
	}
	text := fmt.Sprintf("%s ahead of %s: scores %s, next best %s (lower is better).", say.Capital(how), name, say.Trim(best.Score, 1), say.Trim(second.Score, 1))
	if gap < 0 {
		text = fmt.Sprintf("By points %s is as good: it scores %s, this one %s (lower is better); more methods pick this one.", name, say.Trim(second.Score, 1), say.Trim(best.Score, 1))
	}
	if s := out.Change.Spread; s > gap {
		text += fmt.Sprintf(" The tires' rolling is known to ± %s %% only; roll both out before ordering.", say.Trim(s, 1))
	}
	return text
}

// trust weighs where the ratios came from that all of this stands on. It
// returns the axles whose readings are in conflict.
func (p *planner) trust(a *Advice) (unsettled []string) {
	for _, x := range append(p.groups[p.primary][:len(p.groups[p.primary]):len(p.groups[p.primary])], p.groups[p.secondary]...) {
		at := x.At
		now := fmt.Sprintf("The %s axle's %s", at, x.Ratio.Decimal(2))
		if p.several() {
			now = fmt.Sprintf("The %s's %s", say.Small(x.Name), x.Ratio.Decimal(2))
		}
		sure := ""
		if x.Source.Probability > 0 {
			sure = ", " + say.Chance(x.Source.Probability)
		}
		switch x.Source.Kind {
		case "measured":
			a.For = append(a.For, now+" is measured"+sure+".")
		case "plate":
			a.Against = append(a.Against, now+" is read from a plate or tag: count teeth or turns before ordering.")
		case "assumed":
			a.Against = append(a.Against, now+" is assumed"+sure+": count teeth or turns before ordering.")
		case "conflict":
			unsettled = append(unsettled, at+" axle")
			a.Against = append(a.Against, now+" is in conflict: readings at the bench disagree. Settle that before ordering anything.")
		}
	}
	return unsettled
}

// apart is the comparison of ends that already differ by more than is usual.
func (p *planner) apart() *match.Match {
	if m := p.now; m != nil && (m.Level == "caution" || m.Level == "wrong") {
		return m
	}
	return nil
}

func (c *Candidate) has(point string) bool {
	for _, x := range c.Points {
		if x.What == point {
			return true
		}
	}
	return false
}

func lowered(names []string) []string {
	out := make([]string, len(names))
	for i, n := range names {
		out[i] = strings.ToLower(n[:1]) + n[1:]
	}
	return out
}

// nearer reports whether any candidate comes nearer to stock than leaving it.
func (p *planner) nearer(out *Plan) bool {
	for _, c := range out.Candidates {
		if v := out.variant(c.Variant); c.ID != "leave" && c.Refused == "" && math.Abs(v.Against) < math.Abs(out.TiresOnly.Against) {
			return true
		}
	}
	return false
}

// speed says a speed in the unit that is asked for.
func (p *planner) speed(kmh float64, places int) string {
	return say.Trim(say.SpeedIn(kmh, p.q.SpeedUnit), places) + " " + p.q.SpeedUnit
}

// sayAll says a list: a, b and c.
func sayAll(list []string) string {
	if n := len(list); n > 1 {
		return strings.Join(list[:n-1], ", ") + " and " + list[n-1]
	}
	return strings.Join(list, "")
}

func longer(against float64) string {
	if against < 0 {
		return "taller"
	}
	return "shorter"
}

// leaveCosts says what not changing gears means.
func (p *planner) leaveCosts(out *Plan) []string {
	v := out.TiresOnly
	if math.Abs(v.Against) < 0.5 {
		return nil
	}
	var s []string
	if v.Against < 0 {
		s = append(s, fmt.Sprintf("%s %% less pull in every gear; launch and hills feel it, and a clutch or converter works harder.", say.Trim(-v.Against, 1)))
		s = append(s, fmt.Sprintf("%s rpm at %s where %s were meant: it will leave its top gear earlier on a rise.", say.Trim(v.CruiseRPM, 0), p.speed(p.q.Cruise.KMH, 0), say.Trim(out.Before.CruiseRPM, 0)))
	} else {
		s = append(s, fmt.Sprintf("%s %% more rpm at every speed: louder, and worse economy on the highway.", say.Trim(v.Against, 1)))
	}
	return append(s, fmt.Sprintf("Lowest speed in low-low %s, %s before.", p.speed(v.CrawlKMH, 2), p.speed(out.Before.CrawlKMH, 2)))
}

// against says what speaks against new gears.
func (p *planner) against(c *Candidate, v *Variant, out *Plan) []string {
	var s []string
	if v.CruiseRPM > out.TiresOnly.CruiseRPM {
		s = append(s, fmt.Sprintf("%s rpm more at cruise than with the gears left: worse highway economy, better town economy and launch.", say.Trim(v.CruiseRPM-out.TiresOnly.CruiseRPM, 0)))
	} else if v.CruiseRPM < out.TiresOnly.CruiseRPM {
		s = append(s, fmt.Sprintf("%s rpm less at cruise than with the gears left, and %s %% less pull.", say.Trim(out.TiresOnly.CruiseRPM-v.CruiseRPM, 0), say.Trim((1-v.Launch/out.TiresOnly.Launch)*100, 1)))
	}
	if c.Rear == nil {
		return append(s, "Count both change gears before ordering, and look that face width and spline fit; gears with the same sum of teeth keep the center distance.")
	}
	if z := p.axles[p.primary].Pair; c.Rear.Pinion < z[1] {
		s = append(s, fmt.Sprintf("The pinion has %d teeth instead of %d: smaller and weaker.", c.Rear.Pinion, z[1]))
	}
	if p.secondary != "" && p.q.Front.Type == "independent" {
		s = append(s, "An independent front axle takes more labor than a solid one.")
	}
	switch {
	case c.Rear.Common:
		s = append(s, "Not on the shelf and no price yet: ask the supplier for this housing before you open anything.")
	case !c.Shelf:
		s = append(s, "Not all of it is on the shelf.")
	}
	if !c.Complete {
		s = append(s, "The price list has gaps: the estimate is not complete.")
	}
	return s
}

func (p *planner) notes(out *Plan) {
	if m := p.apart(); m != nil {
		out.Notes = append(out.Notes, "As it is now: "+m.Verdict)
	}
	if math.Abs(out.Change.Percent) > 25 {
		out.Notes = append(out.Notes, "The tires differ by more than a quarter: check the markings.")
	}
}
