// Package experience is what shops found, as counts that they may give each other: which
// gears were counted in which kind of part, which faults repairs proved, and how far
// housings' sensitivities lay from the law. It knows parts and faults only, neither
// customers nor units.
//
// What is taken from other shops weighs by stated rules: gears as identify.Others says,
// faults as findfault.Learn does, sensitivities as backlash.Housings.With does.
package experience

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"zorvel/core/backlash"
	"zorvel/core/fault"
	"zorvel/core/findfault"
	"zorvel/core/identify"
)

// Format names the open file.
const Format = "zorvel-experience-1"

// Bounds of a file, and of how many are kept.
const (
	MostShops    = 200
	MostGears    = 4000
	MostFaults   = 100
	MostHousings = 20
	MostFound    = 1_000_000
)

// File is one shop's experience.
type File struct {
	Format string `json:"format"`
	// Shop tells one shop's files from another's and says nothing else.
	Shop string `json:"shop"`
	// Number grows with what the shop knows: of two files of one shop, the greater is newer.
	Number   int64     `json:"number"`
	Name     string    `json:"name,omitempty"` // as the shop wants to be called
	Gears    []Gears   `json:"gears"`
	Faults   []Fault   `json:"faults"`
	Housings []Housing `json:"housings"`
}

// Gears is how often a set was counted in a kind of part.
type Gears struct {
	identify.Stage
	Construction string `json:"construction"`
	Teeth        []int  `json:"teeth"`
	Found        int    `json:"found"`
}

// Fault is how often a repair proved a sort of fault.
type Fault struct {
	Sort  string `json:"sort"`
	Found int    `json:"found"`
}

// Housing is how housings' sensitivities lay about the law, as factors of it.
type Housing struct {
	Kind string `json:"kind"` // ring, pinion or gearcase: which gear the shim moved
	backlash.Scatter
}

// Kinds of housing.
const (
	Ring     = "ring"
	Pinion   = "pinion"
	Gearcase = "gearcase"
)

// Check refuses what can't be; faults are fault.Errors with paths within the file. Gears
// that don't fit their part are named by their line.
func (f *File) Check() error {
	var errs fault.Errors
	if f.Format != Format {
		errs.Add("format", "%q is no experience file; this program reads %s", f.Format, Format)
		return errs.Err()
	}
	if n := len(f.Shop); n < 8 || n > 64 || strings.Trim(f.Shop, "0123456789abcdef") != "" {
		errs.Add("shop", "8 to 64 of the digits 0 to 9 and a to f, the same in all of a shop's files")
	}
	if f.Number < 0 {
		errs.Add("number", "how much the shop knew, from 0; of two files the greater is newer")
	}
	f.checkGears(&errs)
	f.checkFaults(&errs)
	f.checkHousings(&errs)
	return errs.Err()
}

// mostTold bounds how many faults of a file are told at once.
const mostTold = 20

func (f *File) checkGears(errs *fault.Errors) {
	if len(f.Gears) > MostGears {
		errs.Add("gears", "at most %d sets", MostGears)
		return
	}
	seen := map[string]bool{}
	for i, g := range f.Gears {
		at := fmt.Sprintf("gears/%d", i)
		if len(*errs) >= mostTold {
			return
		}
		if err := identify.CheckEntry(g.Stage, g.entry()); err != nil {
			*errs = append(*errs, fault.List(fault.Under(at, err))...)
			continue
		}
		if k := fmt.Sprint(g.Normal(), g.Construction, g.Teeth); seen[k] {
			errs.Add(at+"/teeth", "this set is in the file twice; count it once")
		} else {
			seen[k] = true
		}
		if g.Found < 1 || g.Found > MostFound {
			errs.Add(at+"/found", "how many housings held it, from 1 to %d", MostFound)
		}
	}
}

func (f *File) checkFaults(errs *fault.Errors) {
	if len(f.Faults) > MostFaults {
		errs.Add("faults", "at most %d sorts of fault", MostFaults)
		return
	}
	known, seen := findfault.Priors(), map[string]bool{}
	for i, x := range f.Faults {
		at := fmt.Sprintf("faults/%d/", i)
		switch {
		case known[x.Sort] == 0:
			errs.Add(at+"sort", "%q is no sort of fault that is known here", x.Sort)
		case seen[x.Sort]:
			errs.Add(at+"sort", "this sort is in the file twice; count it once")
		}
		seen[x.Sort] = true
		if x.Found < 1 || x.Found > MostFound {
			errs.Add(at+"found", "how many repairs proved it, from 1 to %d", MostFound)
		}
	}
}

func (f *File) checkHousings(errs *fault.Errors) {
	if len(f.Housings) > MostHousings {
		errs.Add("housings", "at most %d kinds", MostHousings)
		return
	}
	var seen []string
	for i, h := range f.Housings {
		at := fmt.Sprintf("housings/%d/", i)
		if !slices.Contains([]string{Ring, Pinion, Gearcase}, h.Kind) || slices.Contains(seen, h.Kind) {
			errs.Add(at+"kind", "ring, pinion or gearcase, each once")
		}
		seen = append(seen, h.Kind)
		if h.Count < 1 || h.Count > MostFound {
			errs.Add(at+"count", "how many housings, from 1 to %d", MostFound)
		}
		if !(h.Mean >= 0.2 && h.Mean <= 5) {
			errs.Add(at+"mean", "how many times the law's sensitivity, from 0.2 to 5")
		}
		if !(h.Sigma >= 0 && h.Sigma <= 2) {
			errs.Add(at+"sigma", "the standard deviation of that factor, from 0 to 2")
		}
	}
}

func (g Gears) entry() identify.CatalogEntry {
	return identify.CatalogEntry{Construction: g.Construction, Teeth: g.Teeth, Weight: float64(g.Found)}
}

// Empty is whether there is nothing to give.
func (f *File) Empty() bool { return len(f.Gears)+len(f.Faults)+len(f.Housings) == 0 }

// Counted is how many housings' gears a shop counted.
func (f *File) Counted() int {
	n := 0
	for _, g := range f.Gears {
		n += g.Found
	}
	return n
}

// Proved is how many faults its repairs proved.
func (f *File) Proved() int {
	n := 0
	for _, x := range f.Faults {
		n += x.Found
	}
	return n
}

// Moved is how many housings taught their sensitivity; of a ring and pinion both gears
// may have been moved, in one housing.
func (f *File) Moved() int {
	most := map[bool]int{}
	for _, h := range f.Housings {
		most[h.Kind == Gearcase] = max(most[h.Kind == Gearcase], h.Count)
	}
	return most[true] + most[false]
}

// Gather counts what a shop found, in a fixed order.
type Gather struct {
	gears  map[string]*Gears
	faults map[string]int
	taught map[string][]backlash.Sample
}

// Count takes a housing whose gears were counted; what is no whole set counts for nothing.
func (c *Gather) Count(st identify.Stage, teeth identify.Counts) {
	if con, t, ok := st.Whole(teeth); ok {
		c.add(st, identify.CatalogEntry{Construction: con, Teeth: t})
	}
}

func (c *Gather) add(st identify.Stage, e identify.CatalogEntry) {
	if identify.CheckEntry(st, e) != nil {
		return
	}
	if c.gears == nil {
		c.gears = map[string]*Gears{}
	}
	g := Gears{Stage: st.Normal(), Construction: e.Construction, Teeth: e.Teeth}
	k := fmt.Sprint(g.Stage, e.Construction, e.Teeth)
	if c.gears[k] == nil {
		c.gears[k] = &g
	}
	c.gears[k].Found++
}

// Prove takes a fault that a repair proved.
func (c *Gather) Prove(sort string) {
	if findfault.Priors()[sort] == 0 {
		return
	}
	if c.faults == nil {
		c.faults = map[string]int{}
	}
	c.faults[sort]++
}

// Learn takes what a housing's trials taught.
func (c *Gather) Learn(kind string, s backlash.Sample) {
	if !(s.Factor >= 0.2 && s.Factor <= 5) {
		return
	}
	if c.taught == nil {
		c.taught = map[string][]backlash.Sample{}
	}
	c.taught[kind] = append(c.taught[kind], s)
}

// File is what was gathered; of more sets than a file holds, those found oftenest.
func (c *Gather) File(shop string, number int64, name string) File {
	f := File{Format: Format, Shop: shop, Number: number, Name: name, Gears: []Gears{}, Faults: []Fault{},
		Housings: []Housing{}}
	for _, g := range c.gears {
		f.Gears = append(f.Gears, *g)
	}
	slices.SortFunc(f.Gears, func(a, b Gears) int {
		return cmp.Or(b.Found-a.Found, strings.Compare(fmt.Sprint(a.Stage, a.Construction), fmt.Sprint(b.Stage,
			b.Construction)), slices.Compare(a.Teeth, b.Teeth))
	})
	f.Gears = f.Gears[:min(len(f.Gears), MostGears)]
	for sort, n := range c.faults {
		f.Faults = append(f.Faults, Fault{sort, n})
	}
	slices.SortFunc(f.Faults, func(a, b Fault) int { return cmp.Or(b.Found-a.Found, strings.Compare(a.Sort, b.Sort)) })
	for _, kind := range []string{Ring, Pinion, Gearcase} {
		if list := c.taught[kind]; len(list) > 0 {
			f.Housings = append(f.Housings, Housing{kind, backlash.Scattered(list)})
		}
	}
	return f
}
