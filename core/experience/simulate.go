package experience

import (
	"fmt"
	"math"
	"math/rand/v2"

	"zorvel/core/identify"
	"zorvel/core/trials"
)

// Cooperative is a simulation: shops whose work is alike but not the same count
// housings and give each other what they found; then each shop in turn, with nothing
// counted of its own, goes on with what the rest found, and without.
type Cooperative struct {
	Shops       int
	Housings    int // that each shop has counted
	Technicians int // that then measure, over all shops
	Seed        uint64
	// Apart is how far shops differ: the standard deviation of the logarithm of a set's
	// weight from shop to shop.
	Apart float64
	// Strange is the share of a shop's axles that come from no shop's usual sets but from
	// what the verdict reckons with anyway.
	Strange float64
	// Elsewhere has the shops that go on measure axles of quite other sets.
	Elsewhere bool
}

// Outcome holds the lone shops beside those with the others' experience.
type Outcome struct {
	Alone, With identify.Outcome
}

// usualSets is how many sets a cooperative's work is mostly made of.
const usualSets = 40

// Run simulates; space is what the verdict reckons with before experience.
func (c Cooperative) Run(space *identify.Space) (Outcome, error) {
	r := rand.New(rand.NewPCG(c.Seed, 0xc009))
	sets := usual(r, space)
	worlds := make([]*identify.Space, c.Shops)
	files := make([]File, c.Shops)
	for i := range worlds {
		var err error
		if worlds[i], err = c.world(r, space, sets); err != nil {
			return Outcome{}, err
		}
		var g Gather
		for range c.Housings {
			g.add(space.Stage, worlds[i].Draw(r))
		}
		files[i] = g.File(fmt.Sprintf("%08x", i+1), 1, "")
	}
	if c.Elsewhere {
		for i := range worlds {
			var err error
			if worlds[i], err = c.world(r, space, usual(r, space)); err != nil {
				return Outcome{}, err
			}
		}
	}
	type pair struct{ alone, with identify.Outcome }
	var out Outcome
	each := max(1, c.Technicians/c.Shops)
	err := trials.Run(c.Shops, 1, func(i, _ int) (pair, error) {
		rest := append(append([]File{}, files[:i]...), files[i+1:]...)
		sp, err := space.With(identify.List{}, NewPool(rest).Others(space.Stage))
		if err != nil {
			return pair{}, err
		}
		t := identify.Trial{Technicians: each, Scale: 1, Seed: c.Seed + uint64(i), Truths: worlds[i]}
		alone, err := t.Run(space, nil)
		if err != nil {
			return pair{}, err
		}
		with, err := t.Run(sp, nil)
		return pair{alone, with}, err
	}, func(p pair) { out.Alone, out.With = out.Alone.Add(p.alone), out.With.Add(p.with) }, nil)
	return out, err
}

// usual draws different sets, with weights that fall off as they do in every trade, by
// Zipf's law.
func usual(r *rand.Rand, space *identify.Space) []identify.CatalogEntry {
	var out []identify.CatalogEntry
	seen := map[string]bool{}
	for len(out) < usualSets {
		e := space.Draw(r)
		if k := fmt.Sprint(e.Construction, e.Teeth); !seen[k] {
			seen[k] = true
			e.Weight = 1 / float64(len(out)+1)
			out = append(out, e)
		}
	}
	return out
}

// world is one shop's axles.
func (c Cooperative) world(r *rand.Rand, space *identify.Space, sets []identify.CatalogEntry) (*identify.Space, error) {
	own := make([]identify.CatalogEntry, len(sets))
	for i, e := range sets {
		e.Weight *= math.Exp(c.Apart * r.NormFloat64())
		own[i] = e
	}
	return space.Mixed(own, 1-c.Strange)
}
