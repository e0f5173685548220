package server

import (
	"context"
	"encoding/json"
	"fmt"

	"zorvel/api"
	"zorvel/core/catalog"
	"zorvel/core/identify"
	"zorvel/core/identify/bench"
	"zorvel/internal/store"
)

// shop is the shop's gear sets by the stage that they are for.
type shop map[identify.Stage]shelf

// shelf is the sets of one stage, with a key that changes when they do.
type shelf struct {
	list identify.List
	key  string
	mark string // what verdicts that rest on it are marked with
}

// loadShop reads the shop's gear sets, kept until their list changes.
func (s *Server) loadShop(ctx context.Context) (shop, error) {
	mark, err := s.store.CatalogMark(ctx, catalog.GearSets)
	if err != nil {
		return nil, err
	}
	counts, counted, err := s.store.ListCounts(ctx)
	if err != nil {
		return nil, err
	}
	known := [2]int64{mark, counted}
	if out, ok := s.caches.shops.Get(known); ok {
		return out, nil
	}
	rows, err := s.rowsOf(ctx, catalog.GearSets)
	if err != nil {
		return nil, err
	}
	out := shop{}
	for _, x := range rows {
		r := catalog.Row(x.Cells)
		k := r.Stage().Normal()
		l := out[k]
		l.list.Sets = append(l.list.Sets, r.Entry())
		out[k] = l
	}
	for k, l := range out {
		text, err := json.Marshal(l.list.Sets)
		if err != nil {
			return nil, err
		}
		c := counts[stageKey(k)]
		l.list.Counted, l.list.Found = c.Counted, c.Found
		l.key = fmt.Sprintf("%q %d %d %s", k, c.Counted, c.Found, text)
		// What a verdict says changes with the share, which moves in steps.
		l.mark = shelfMark(fmt.Sprintf("%q %.2f %s", k, l.list.Share(), text))
		out[k] = l
	}
	s.caches.shops.Add(known, out)
	return out, nil
}

// shopSpace is the space with the shop's catalog in its prior.
func (s *Server) shopSpace(sh shop, st identify.Stage) (*identify.Space, error) {
	base, err := s.caches.space(st)
	if err != nil {
		return nil, err
	}
	l := sh[st.Normal()]
	if len(l.list.Sets) == 0 {
		return base, nil
	}
	sp, err := s.caches.shop.get(l.key, func() (*identify.Space, error) { return base.WithList(l.list) })
	if err != nil {
		return nil, fmt.Errorf("the shop's catalog: %w", err)
	}
	return sp, nil
}

// Identify weighs readings without storing anything.
func (s *Server) Identify(ctx context.Context, r api.IdentifyRequestObject) (api.IdentifyResponseObject, error) {
	sp, err := s.caches.space(r.Body.Stage)
	if err != nil {
		return nil, err
	}
	if deref(r.Body.Prior) == bench.Shop { // else the bench takes nothing for common
		sh, err := s.loadShop(ctx)
		if err != nil {
			return nil, err
		}
		if sp, err = s.shopSpace(sh, r.Body.Stage); err != nil {
			return nil, err
		}
	}
	out, err := bench.Answer(sp, *r.Body)
	if err != nil {
		return nil, err
	}
	return api.Identify200JSONResponse(*out), nil
}

// EchoWords repeats what was understood.
func (s *Server) EchoWords(_ context.Context, r api.EchoWordsRequestObject) (api.EchoWordsResponseObject, error) {
	out, err := bench.Understand(*r.Body)
	if err != nil {
		return nil, err
	}
	return api.EchoWords200JSONResponse(*out), nil
}

// GetKnowledge lists what verdicts rest on.
func (s *Server) GetKnowledge(context.Context, api.GetKnowledgeRequestObject) (api.GetKnowledgeResponseObject, error) {
	out, err := bench.Know()
	if err != nil {
		return nil, err
	}
	return api.GetKnowledge200JSONResponse(*out), nil
}

// kept is the question of a stored stage.
func kept(v store.Stage) identify.Stage {
	return identify.Stage{Kind: identify.Kind(v.Kind), Position: v.Position, Held: identify.Member(v.Held), Input: identify.Member(v.Input)}
}
