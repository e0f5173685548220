// Package index keeps what is known: the shop's gear sets as the counting bench
// asks for them, what their lists have earned, and the verdicts by which units
// are listed and found. What it stores is a projection, marked with what it was
// made from, and can be made anew at any time.
package index

import (
	"context"
	"fmt"
	"log/slog"
	"sync"

	lru "github.com/hashicorp/golang-lru/v2"
	"github.com/hashicorp/golang-lru/v2/simplelru"
	"golang.org/x/sync/singleflight"

	"zorvel/core/experience"
	"zorvel/core/identify"
	"zorvel/core/identify/bench"
	"zorvel/internal/store"
)

// Index is what is known of the shop and of what was counted, as far as it is
// costly to compute: verdicts by stage and evidence, the shop's lists. It is a
// cache only; every server has its own.
type Index struct {
	store *store.Store
	log   *slog.Logger

	summaries *lru.Cache[string, Summary]
	flight    singleflight.Group // of summaries that several ask for at once
	lists     *lru.Cache[string, []store.CatalogRow]
	shops     *lru.Cache[[3]int64, Shop] // by the state of the list of gear sets, of what was counted, and of what other shops found
	pools     *lru.Cache[int64, *experience.Pool]

	counted string // the TeethMark that lists were counted at; of the one who makes findable
}

// Spaces of builds follow from their keys alone, so a process keeps each once,
// however many servers it holds. Those of all kinds of stage take about 30 MB.
var (
	plainSpaces = newSpaceCache(64 << 20) // by stage
	shopSpaces  = newSpaceCache(96 << 20) // by stage, its list and what the list has earned
)

// spaceCache keeps the spaces that were asked for last, within a number of
// bytes. Those who ask for the same one at once wait for one answer.
type spaceCache struct {
	flight singleflight.Group
	mu     sync.Mutex
	kept   *simplelru.LRU[string, *identify.Space]
	bytes  int
	most   int
}

func newSpaceCache(most int) *spaceCache {
	c := &spaceCache{most: most}
	var err error
	// The number of entries is bounded too: small spaces are many.
	c.kept, err = simplelru.NewLRU(500, func(_ string, sp *identify.Space) { c.bytes -= sp.Bytes() })
	must(err)
	return c
}

func (c *spaceCache) get(key string, make func() (*identify.Space, error)) (*identify.Space, error) {
	look := func() (*identify.Space, bool) {
		c.mu.Lock()
		defer c.mu.Unlock()
		return c.kept.Get(key)
	}
	if sp, ok := look(); ok {
		return sp, nil
	}
	v, err, _ := c.flight.Do(key, func() (any, error) {
		if sp, ok := look(); ok { // made since
			return sp, nil
		}
		sp, err := make()
		if err != nil {
			return nil, err
		}
		c.mu.Lock()
		defer c.mu.Unlock()
		c.kept.Add(key, sp)
		for c.bytes += sp.Bytes(); c.bytes > c.most && c.kept.Len() > 1; {
			c.kept.RemoveOldest()
		}
		return sp, nil
	})
	if err != nil {
		return nil, err
	}
	return v.(*identify.Space), nil
}

func must(err error) {
	if err != nil { // only a size below one fails
		panic(err)
	}
}

// New begins with nothing known.
func New(st *store.Store, log *slog.Logger) *Index {
	k := &Index{store: st, log: log}
	var err error
	k.summaries, err = lru.New[string, Summary](5000)
	must(err)
	k.lists, err = lru.New[string, []store.CatalogRow](16)
	must(err)
	k.shops, err = lru.New[[3]int64, Shop](2)
	must(err)
	k.pools, err = lru.New[int64, *experience.Pool](2)
	must(err)
	return k
}

// Warm builds the large spaces ahead of the first question.
func (s *Index) Warm() {
	for _, kind := range identify.Kinds() {
		for _, pos := range bench.Positions(kind) {
			_, _ = s.Space(identify.Stage{Kind: kind, Position: pos})
		}
	}
}

// Space is every build of a stage, as it is without a shop.
func (s *Index) Space(st identify.Stage) (*identify.Space, error) {
	n := st.Normal()
	return plainSpaces.get(fmt.Sprintf("%q", n), func() (*identify.Space, error) { return identify.NewSpace(n) })
}

// SpaceAsked is a stage's space as a question asks for it: with the shop's own gears, or
// as it is without a shop.
func (s *Index) SpaceAsked(ctx context.Context, st identify.Stage, shop bool) (*identify.Space, error) {
	if !shop { // else the bench takes nothing for common
		return s.Space(st)
	}
	if _, err := s.Space(st); err != nil {
		return nil, err
	}
	sh, err := s.Shop(ctx)
	if err != nil {
		return nil, err
	}
	return s.SpaceOf(sh, st)
}

// Forget drops the verdicts that are kept.
func (s *Index) Forget() { s.summaries.Purge() }
