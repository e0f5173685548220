package regear

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"

	"zorvel/core/driveline/match"
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
		a.Sure = unsettledFirst(unsettled, a)
	}
	out.Advice = a
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

// nearer reports whether any candidate comes nearer to stock than leaving it.
func (p *planner) nearer(out *Plan) bool {
	for _, c := range out.Candidates {
		if v := out.variant(c.Variant); c.ID != "leave" && c.Refused == "" && math.Abs(v.Against) < math.Abs(out.TiresOnly.Against) {
			return true
		}
	}
	return false
}
