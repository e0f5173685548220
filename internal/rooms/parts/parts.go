package parts

import (
	"context"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strconv"
	"strings"

	"zorvel/api"
	"zorvel/core/driveline"
	"zorvel/core/fault"
	"zorvel/core/typed"
	"zorvel/internal/problem"
	"zorvel/internal/rooms/units"
	"zorvel/internal/store"
)

func (s *Room) shopParts(ctx context.Context, kind string) ([]api.ShopPart, error) {
	rows, err := s.store.ShopParts(ctx, kind)
	out := make([]api.ShopPart, len(rows))
	for i, p := range rows {
		part, err := units.KeptPart(p.Part)
		if err != nil { // it is listed by its name, to be taken out or added anew
			part = driveline.Part{Kind: p.Kind}
		}
		out[i] = api.ShopPart{Id: p.ID, Maker: p.Maker, Name: p.Name, Notes: p.Notes, Part: part}
	}
	return out, err
}

// ListParts lists the shop's parts.
func (s *Room) ListParts(ctx context.Context, r api.ListPartsRequestObject) (api.ListPartsResponseObject, error) {
	out, err := s.shopParts(ctx, string(api.Value(r.Params.Kind)))
	return api.ListParts200JSONResponse(out), err
}

// Row checks a catalog part and makes its row.
func Row(p *driveline.Part, maker, name, notes string) (store.ShopPart, error) {
	p.ID, p.Name = "part", strings.TrimSpace(name)
	b, err := json.Marshal(p)
	return store.ShopPart{Kind: p.Kind, Maker: strings.TrimSpace(maker), Name: p.Name, Notes: strings.TrimSpace(notes), Part: b}, err
}

// AddParts adds parts to the catalog.
func (s *Room) AddParts(ctx context.Context, r api.AddPartsRequestObject) (api.AddPartsResponseObject, error) {
	rows := make([]store.ShopPart, len(r.Body.Parts))
	for i, n := range r.Body.Parts {
		if err := n.Part.Loose(); err != nil {
			return nil, fault.Under("parts/"+strconv.Itoa(i)+"/part", err)
		}
		var err error
		if rows[i], err = Row(&n.Part, api.Value(n.Maker), n.Name, api.Value(n.Notes)); err != nil {
			return nil, err
		}
	}
	err := s.store.AddShopParts(ctx, rows)
	var taken *store.TakenError
	if errors.As(err, &taken) {
		return nil, problem.Field("/parts/"+strconv.Itoa(taken.Index)+"/name", "the catalog has this part already")
	}
	if err != nil {
		return nil, err
	}
	out, err := s.shopParts(ctx, "")
	return api.AddParts201JSONResponse(out), err
}

// RemovePart takes a part out of the catalog.
func (s *Room) RemovePart(ctx context.Context, r api.RemovePartRequestObject) (api.RemovePartResponseObject, error) {
	return api.RemovePart204Response{}, s.store.RemoveShopPart(ctx, r.Id)
}

var partColumns = []string{"kind", "maker", "name", "notes", "figures"}

// ExportParts writes the catalog as CSV.
func (s *Room) ExportParts(ctx context.Context, _ api.ExportPartsRequestObject) (api.ExportPartsResponseObject, error) {
	rows, err := s.store.ShopParts(ctx, "")
	if err != nil {
		return nil, err
	}
	var b strings.Builder
	w := csv.NewWriter(&b)
	_ = w.Write(partColumns) // a strings.Builder takes everything
	for _, r := range rows {
		figures := "" // of a part that can't be read, its name alone
		if p, err := driveline.ParsePart(r.Part); err == nil {
			figures = typed.Cell(figuresOf(*p))
		}
		_ = w.Write([]string{r.Kind, typed.Cell(r.Maker), typed.Cell(r.Name), typed.Cell(r.Notes), figures})
	}
	w.Flush()
	text := b.String()
	return api.ExportParts200TextcsvResponse{Body: strings.NewReader(text), ContentLength: int64(len(text))}, nil
}

// ImportParts takes parts in from CSV, all or nothing.
func (s *Room) ImportParts(ctx context.Context, r api.ImportPartsRequestObject) (api.ImportPartsResponseObject, error) {
	rows, err := readParts(r.Body.Text)
	if err != nil {
		return nil, err
	}
	parts := make([]store.ShopPart, len(rows))
	for i, x := range rows {
		parts[i] = x.part
	}
	err = s.store.AddShopParts(ctx, parts)
	var taken *store.TakenError
	if errors.As(err, &taken) {
		return nil, problem.Field("/text", fmt.Sprintf("line %d: the catalog has %s already", rows[taken.Index].line, parts[taken.Index].Name))
	}
	if err != nil {
		return nil, err
	}
	out, err := s.shopParts(ctx, "")
	return api.ImportParts201JSONResponse(out), err
}

type lineOfParts struct {
	part store.ShopPart
	line int
}

// readParts reads CSV with the columns kind, maker, name, notes and figures in
// any order; maker and notes may be missing. Every line at fault is named.
func readParts(text string) ([]lineOfParts, error) {
	text = strings.TrimPrefix(text, "\ufeff")
	c := csv.NewReader(strings.NewReader(text))
	if first, _, _ := strings.Cut(text, "\n"); strings.Count(first, ";") > strings.Count(first, ",") {
		c.Comma = ';'
	}
	c.FieldsPerRecord, c.TrimLeadingSpace = -1, true
	head, err := c.Read()
	if err != nil {
		return nil, problem.Field("/text", "the first line names the columns: "+strings.Join(partColumns, ","))
	}
	at := map[string]int{}
	for i, h := range head {
		at[strings.ToLower(strings.TrimSpace(h))] = i
	}
	for _, need := range []string{"kind", "name", "figures"} {
		if _, ok := at[need]; !ok {
			return nil, problem.Field("/text", fmt.Sprintf("the column %q is missing; the columns are %s", need, strings.Join(partColumns, ", ")))
		}
	}
	var out []lineOfParts
	var errs []problem.FieldFault
	for {
		rec, err := c.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		line, _ := c.FieldPos(0)
		if err != nil {
			errs = append(errs, problem.FieldFault{Field: "/text", Message: fmt.Sprintf("line %d: %v", line, err)})
			break
		}
		get := func(col string) string {
			if i, ok := at[col]; ok && i < len(rec) {
				return typed.Uncell(strings.TrimSpace(rec[i]))
			}
			return ""
		}
		row, err := readPart(get)
		if err != nil {
			errs = append(errs, problem.FieldFault{Field: "/text", Message: fmt.Sprintf("line %d: %s", line, err)})
			continue
		}
		out = append(out, lineOfParts{row, line})
	}
	if len(out)+len(errs) > 500 {
		return nil, problem.Field("/text", "at most 500 parts at once")
	}
	if len(errs) > 0 {
		return nil, problem.Fields(errs)
	}
	if len(out) == 0 {
		return nil, problem.Field("/text", "there is no part below the line of column names")
	}
	return out, nil
}

func readPart(get func(string) string) (store.ShopPart, error) {
	p := driveline.Part{ID: "part", Kind: get("kind"), Name: get("name")}
	if p.Name == "" || len(p.Name) > 80 {
		return store.ShopPart{}, errors.New("a name of 1 to 80 characters is needed")
	}
	if err := readFigures(&p, get("figures")); err != nil {
		return store.ShopPart{}, err
	}
	b, err := json.Marshal(p)
	if err != nil {
		return store.ShopPart{}, err
	}
	q, err := driveline.ParsePart(b)
	var list fault.Errors
	if errors.As(err, &list) {
		return store.ShopPart{}, errors.New(list[0].Error())
	}
	if err != nil {
		return store.ShopPart{}, err
	}
	maker, notes := get("maker"), get("notes")
	if len(maker) > 60 || len(notes) > 400 {
		return store.ShopPart{}, errors.New("a maker has at most 60 and notes at most 400 characters")
	}
	return Row(q, maker, p.Name, notes)
}
