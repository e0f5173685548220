package find

import (
	"context"
	"errors"
	"slices"
	"strings"
	"time"

	"zorvel/api"
	"zorvel/core/find"
	"zorvel/core/identify"
	"zorvel/internal/problem"
	"zorvel/internal/signin"
	"zorvel/internal/store"
)

// leads reports whether a ratio is one that a unit is known by, measured or not.
func leads(kind identify.Kind) bool { return slices.Contains(leading, string(kind)) }

var leading = []string{string(identify.RingAndPinion), string(identify.TwoStage), string(identify.Gearcase)}

// asked is which units a request wants.
func asked(p api.ListUnitsParams) (store.Asked, bool) {
	q := store.Asked{
		Kind: string(api.Value(p.Kind)), State: string(api.Value(p.State)),
		Ratio:    strings.ReplaceAll(strings.TrimSpace(api.Value(p.Ratio)), ",", "."),
		Family:   strings.TrimSpace(api.Value(p.Family)),
		Archived: api.Value(p.Archived), Order: string(api.Value(p.Order)), Day: time.Now().UTC(), Most: api.Value(p.Per), Leads: leading,
	}
	switch api.Value(p.Due) {
	case api.Overdue:
		q.Due = store.FactDue
	case api.Soon:
		q.Due = store.FactSoon
	}
	if q.Most == 0 {
		q.Most = store.MostListed
	}
	if page := api.Value(p.Page); page > 1 {
		q.Skip = (page - 1) * q.Most
	}
	sought := strings.TrimSpace(api.Value(p.Search))
	if sought != "" {
		q.Words = find.Query(sought)
		if q.Order == "" {
			q.Order = store.ByMatch
		}
	}
	return q, sought != "" && q.Words.None()
}

// projected is whether a list rests on what is made from the records, and not
// on the units' own rows alone.
func projected(q store.Asked) bool {
	return !q.Words.None() || q.State != "" || q.Ratio != "" || q.Family != "" || q.Due != ""
}

// ListUnits lists units with the state of what was measured of them.
func (s *Room) ListUnits(ctx context.Context, r api.ListUnitsRequestObject) (api.ListUnitsResponseObject, error) {
	out := api.ListUnits200JSONResponse{Body: []api.Unit{}, Headers: api.ListUnits200ResponseHeaders{XTotalCount: new(int), XNotYet: new(int)}}
	q, nothing := asked(r.Params)
	if nothing {
		return out, nil
	}
	if projected(q) {
		left, err := s.freshen(ctx)
		if err != nil {
			return nil, err
		}
		out.Headers.XNotYet = &left
	}
	units, total, err := s.store.Units(ctx, q)
	if err != nil {
		return nil, err
	}
	sh, err := s.index.Shop(ctx)
	if err != nil {
		return nil, err
	}
	made, err := s.index.Recall(ctx, sh, units)
	if err != nil {
		return nil, err
	}
	for _, u := range units {
		x, err := s.units.Out(ctx, sh, u)
		if err != nil {
			return nil, err
		}
		out.Body = append(out.Body, x)
	}
	out.Headers.XTotalCount = &total
	s.index.Retain(ctx, made)
	return out, nil
}

// mostAside is how many units that can't be read are told at once.
const mostAside = 20

// filters is what units can be filtered by; the owner is told of units that can't
// be read.
func (s *Room) filters(ctx context.Context) (api.Filters, error) {
	out := api.Filters{Ratios: []api.Counted{}, Families: []api.Counted{}, Saved: []api.SavedFilter{}}
	if _, err := s.freshen(ctx); err != nil {
		return out, err
	}
	for what, to := range map[string]*[]api.Counted{store.FactRatio: &out.Ratios, store.FactFamily: &out.Families} {
		rows, err := s.store.FilterBy(ctx, what)
		if err != nil {
			return out, err
		}
		for _, r := range rows {
			*to = append(*to, api.Counted{Value: r.Value, Units: r.Units})
		}
	}
	if p := signin.Person(ctx); p != nil && p.Role == store.Owner {
		list, err := s.store.SetAside(ctx, mostAside)
		if err != nil {
			return out, err
		}
		aside := []api.SetAside{}
		for _, x := range list {
			aside = append(aside, api.SetAside{Id: x.ID, Name: x.Name, Why: x.Why})
		}
		out.Aside = &aside
	}
	saved, err := s.store.Filters(ctx)
	for _, f := range saved {
		out.Saved = append(out.Saved, api.SavedFilter{Id: f.ID, Name: f.Name, Query: f.Query, By: f.By, At: f.At})
	}
	return out, err
}

// ListFilters lists what units can be filtered by.
func (s *Room) ListFilters(ctx context.Context, _ api.ListFiltersRequestObject) (api.ListFiltersResponseObject, error) {
	out, err := s.filters(ctx)
	return api.ListFilters200JSONResponse(out), err
}

// SaveFilter keeps a filter under a name, for everyone in the shop.
func (s *Room) SaveFilter(ctx context.Context, r api.SaveFilterRequestObject) (api.SaveFilterResponseObject, error) {
	p := signin.Person(ctx)
	switch err := s.store.SaveFilter(ctx, store.Filter{Name: strings.TrimSpace(r.Body.Name), Query: r.Body.Query, By: p.Name}); {
	case errors.Is(err, store.ErrTaken):
		return nil, problem.Field("/name", "a filter is saved under this name already; take that away first, or choose another name")
	case errors.Is(err, store.ErrInUse):
		return nil, problem.Field("/name", "a hundred filters are saved already; take one away first")
	case err != nil:
		return nil, err
	}
	out, err := s.filters(ctx)
	return api.SaveFilter200JSONResponse(out), err
}

// DropFilter takes a saved filter away.
func (s *Room) DropFilter(ctx context.Context, r api.DropFilterRequestObject) (api.DropFilterResponseObject, error) {
	return api.DropFilter204Response{}, s.store.DropFilter(ctx, r.Id)
}
