package experience

import (
	"cmp"
	"fmt"
	"slices"

	"zorvel/core/backlash"
	"zorvel/core/identify"
)

// No shop weighs as more than this many housings, or jobs: one that is large, or that
// counts wrongly, doesn't speak for all.
const mostOfOneShop = 200

// Pool is what other shops gave.
type Pool struct {
	files  []File
	stages map[identify.Stage]identify.Others
}

// NewPool joins files, each of a different shop.
func NewPool(files []File) *Pool {
	p := &Pool{files: files, stages: map[identify.Stage]identify.Others{}}
	of := map[identify.Stage][][]Gears{} // by stage, a shop each
	for _, f := range files {
		mine := map[identify.Stage][]Gears{}
		for _, g := range f.Gears {
			mine[g.Normal()] = append(mine[g.Normal()], g)
		}
		for st, list := range mine {
			of[st] = append(of[st], list)
		}
	}
	for st, shops := range of {
		p.stages[st] = join(shops)
	}
	return p
}

// Stages are those of which something was counted, in a fixed order.
func (p *Pool) Stages() []identify.Stage {
	var out []identify.Stage
	for st := range p.stages {
		out = append(out, st)
	}
	slices.SortFunc(out, func(a, b identify.Stage) int {
		return cmp.Compare(fmt.Sprintf("%q", a), fmt.Sprintf("%q",
			b))
	})
	return out
}

// Others is what they counted in a kind of stage; this shop's own counts are added by
// whoever knows them.
func (p *Pool) Others(st identify.Stage) identify.Others { return p.stages[st.Normal()] }

// enoughShops with enoughEach housings tell how ill a shop may be foretold by the rest.
const enoughShops, enoughEach = 5, 10

// join sums the shops of one stage up, and holds each against the rest: at a cost of all
// their sets twice.
func join(shops [][]Gears) identify.Others {
	type set struct {
		entry identify.CatalogEntry
		shops int
	}
	sets := map[string]*set{}
	key := func(g Gears) string { return fmt.Sprint(g.Construction, g.Teeth) }
	o := identify.Others{Shops: len(shops)}
	counts := make([]int, len(shops))
	for i, list := range shops {
		for _, g := range list {
			counts[i] += g.Found
		}
		o.Counted += counts[i]
		scale := min(1, mostOfOneShop/float64(counts[i]))
		for _, g := range list {
			k := key(g)
			if sets[k] == nil {
				sets[k] = &set{entry: identify.CatalogEntry{Construction: g.Construction, Teeth: g.Teeth}}
			}
			sets[k].entry.Weight += scale * float64(g.Found)
			sets[k].shops++
		}
	}
	foretold, told := 0, 0
	for i, list := range shops {
		hit := 0
		for _, g := range list {
			switch {
			case len(shops) > 1 && sets[key(g)].shops > 1, len(shops) == 1 && g.Found > 1:
				hit += g.Found
			}
		}
		foretold += hit
		if counts[i] >= enoughEach {
			least := identify.AtLeast(hit, counts[i])
			if told == 0 || least < o.Least {
				o.Least = least
			}
			told++
		}
	}
	if told < enoughShops {
		o.Least = 0
	}
	o.Foretold = float64(foretold) / float64(o.Counted)
	if len(shops) == 1 {
		o.Foretold /= 2 // how far shops differ, one can't say
	}
	for _, s := range sets {
		o.Sets = append(o.Sets, s.entry)
	}
	slices.SortFunc(o.Sets, func(a, b identify.CatalogEntry) int {
		return cmp.Or(cmp.Compare(b.Weight, a.Weight), cmp.Compare(a.Construction, b.Construction),
			slices.Compare(a.Teeth, b.Teeth))
	})
	return o
}

// Faults is how often their repairs proved each sort, no shop more than 200 times.
func (p *Pool) Faults() map[string]int {
	sum := map[string]float64{}
	for _, f := range p.files {
		scale := min(1, mostOfOneShop/max(float64(f.Proved()), 1))
		for _, x := range f.Faults {
			sum[x.Sort] += scale * float64(x.Found)
		}
	}
	out := map[string]int{}
	for sort, n := range sum {
		out[sort] = int(n + 0.5)
	}
	return out
}

// Housings is what their housings of a kind say, no shop with more than 200; nil where
// they say nothing.
func (p *Pool) Housings(kind string, believed backlash.Housings) *backlash.Housings {
	var all backlash.Scatter
	for _, f := range p.files {
		for _, h := range f.Housings {
			if h.Kind == kind {
				s := h.Scatter
				s.Count = min(s.Count, mostOfOneShop)
				all = all.Add(s)
			}
		}
	}
	if all.Count == 0 {
		return nil
	}
	with := believed.With(all)
	return &with
}
