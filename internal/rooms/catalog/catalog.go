package catalog

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"zorvel/api"
	"zorvel/core/catalog"
	"zorvel/core/fault"
	"zorvel/internal/problem"
	"zorvel/internal/signin"
	"zorvel/internal/store"
)

// ListCatalog lists the shop's lists with their columns.
func (s *Room) ListCatalog(ctx context.Context, _ api.ListCatalogRequestObject) (api.ListCatalogResponseObject, error) {
	sizes, err := s.store.CatalogSizes(ctx)
	if err != nil {
		return nil, err
	}
	var out api.ListCatalog200JSONResponse
	for _, l := range catalog.Lists() {
		out = append(out, api.CatalogInfo{List: l, Rows: sizes[l.ID]})
	}
	return out, nil
}

// shopList is a list of the contract; the contract lets no others through.
func shopList(name api.CatalogName) (catalog.List, error) {
	l, ok := catalog.Find(string(name))
	if !ok {
		return l, problem.NotFound
	}
	return l, nil
}

func rowOut(r store.CatalogRow) api.CatalogRow {
	out := api.CatalogRow{Id: r.ID, Version: r.Version, Cells: r.Cells}
	if v, ok := catalog.Row(r.Cells).Ratio(); ok {
		out.Ratio = &v
	}
	return out
}

// ListCatalogRows lists the rows of a list.
func (s *Room) ListCatalogRows(ctx context.Context, r api.ListCatalogRowsRequestObject) (api.ListCatalogRowsResponseObject, error) {
	rows, err := s.store.CatalogRows(ctx, string(r.List))
	out := make(api.ListCatalogRows200JSONResponse, len(rows))
	for i, x := range rows {
		out[i] = rowOut(x)
	}
	return out, err
}

// checkedRow reads the cells of a request; faults point at /cells/….
func checkedRow(l catalog.List, cells map[string]string) (store.CatalogRow, error) {
	row, err := l.Check(cells)
	if err != nil {
		return store.CatalogRow{}, fault.Under("cells", err)
	}
	return store.CatalogRow{Identity: l.Identity(row), Cells: row}, nil
}

// AddCatalogRow adds a row.
func (s *Room) AddCatalogRow(ctx context.Context, r api.AddCatalogRowRequestObject) (api.AddCatalogRowResponseObject, error) {
	p := signin.Person(ctx)
	l, err := shopList(r.List)
	if err != nil {
		return nil, err
	}
	row, err := checkedRow(l, r.Body.Cells)
	if err != nil {
		return nil, err
	}
	row, err = s.store.AddCatalogRow(ctx, l.ID, row, p.Name)
	if err != nil {
		return nil, takenRow(l, err)
	}
	return api.AddCatalogRow201JSONResponse(rowOut(row)), nil
}

// takenRow says which columns tell the rows of a list apart.
func takenRow(l catalog.List, err error) error {
	switch {
	case errors.Is(err, store.ErrTaken):
		var keys, names []string
		for _, c := range l.Columns {
			if c.Identity {
				keys, names = append(keys, c.Key), append(names, strings.ToLower(c.Name))
			}
		}
		return problem.Field("/cells/"+keys[len(keys)-1], "there is a row with the same "+strings.Join(names, ", ")+" already")
	case errors.Is(err, store.ErrChanged):
		return problem.New(http.StatusConflict, "Changed meanwhile", "Someone else changed this row meanwhile. What you entered is still here; look at theirs and enter it again.")
	case errors.Is(err, store.ErrFull):
		return problem.Field("/text", fmt.Sprintf("a list holds at most %d rows", store.MaxCatalogRows))
	}
	return err
}

// ChangeCatalogRow changes a row.
func (s *Room) ChangeCatalogRow(ctx context.Context, r api.ChangeCatalogRowRequestObject) (api.ChangeCatalogRowResponseObject, error) {
	p := signin.Person(ctx)
	l, err := shopList(r.List)
	if err != nil {
		return nil, err
	}
	row, err := checkedRow(l, r.Body.Cells)
	if err != nil {
		return nil, err
	}
	row.ID, row.Version = r.Id, r.Body.Version
	row, err = s.store.ChangeCatalogRow(ctx, l.ID, row, p.Name)
	if err != nil {
		return nil, takenRow(l, err)
	}
	return api.ChangeCatalogRow200JSONResponse(rowOut(row)), nil
}

// RemoveCatalogRow takes a row out; the history keeps it.
func (s *Room) RemoveCatalogRow(ctx context.Context, r api.RemoveCatalogRowRequestObject) (api.RemoveCatalogRowResponseObject, error) {
	p := signin.Person(ctx)
	return api.RemoveCatalogRow204Response{}, s.store.RemoveCatalogRow(ctx, string(r.List), r.Id, p.Name)
}

// ListCatalogChanges lists what was changed.
func (s *Room) ListCatalogChanges(ctx context.Context,
	r api.ListCatalogChangesRequestObject) (api.ListCatalogChangesResponseObject, error) {
	l, err := shopList(r.List)
	if err != nil {
		return nil, err
	}
	changes, err := s.store.CatalogChanges(ctx, l.ID, api.Value(r.Params.Row))
	out := make(api.ListCatalogChanges200JSONResponse, len(changes))
	for i, c := range changes {
		out[i] = api.CatalogChange{Id: c.ID, Row: c.RowID, What: api.CatalogChangeWhat(c.What), Text: changeText(l, c), By: c.By, At: c.At}
		if c.Before != nil {
			b := api.CatalogCells(c.Before)
			out[i].Before = &b
		}
	}
	return out, err
}

// rowName names a row by what tells it apart.
func rowName(l catalog.List, cells map[string]string) string {
	var parts []string
	for _, c := range l.Columns {
		v := cells[c.Key]
		if !c.Identity || v == "" || v == c.Default {
			continue
		}
		for _, o := range c.Choices {
			if o.Value == v {
				v = o.Words
			}
		}
		parts = append(parts, v)
	}
	return strings.Join(parts, " ")
}

func changeText(l catalog.List, c store.CatalogChange) string {
	switch c.What {
	case "added":
		return rowName(l, c.After) + " added"
	case "removed":
		return rowName(l, c.Before) + " taken out"
	}
	return rowName(l, c.Before) + ": " + l.Difference(c.Before, c.After)
}

// ExportCatalog writes a list as CSV.
func (s *Room) ExportCatalog(ctx context.Context, r api.ExportCatalogRequestObject) (api.ExportCatalogResponseObject, error) {
	l, err := shopList(r.List)
	if err != nil {
		return nil, err
	}
	rows, err := s.store.CatalogRows(ctx, l.ID)
	if err != nil {
		return nil, err
	}
	cells := make([]catalog.Row, len(rows))
	for i, x := range rows {
		cells[i] = x.Cells
	}
	text := l.WriteCSV(cells)
	return api.ExportCatalog200TextcsvResponse{Body: strings.NewReader(text), ContentLength: int64(len(text))}, nil
}

// shownLines bounds how many lines without fault a look at a file gives back.
const shownLines = 200

// ImportCatalog looks at a file, or takes it in, all or nothing.
func (s *Room) ImportCatalog(ctx context.Context, r api.ImportCatalogRequestObject) (api.ImportCatalogResponseObject, error) {
	p := signin.Person(ctx)
	l, err := shopList(r.List)
	if err != nil {
		return nil, err
	}
	lines, err := l.ReadCSV(r.Body.Text)
	if err != nil {
		return nil, err
	}
	rows, err := s.store.CatalogRows(ctx, l.ID)
	if err != nil {
		return nil, err
	}
	have := make(map[string]store.CatalogRow, len(rows))
	for _, x := range rows {
		have[x.Identity] = x
	}
	out := api.CatalogPreview{Lines: []api.CatalogLine{}}
	var take []store.CatalogRow
	for i := range lines {
		x := &lines[i]
		id := l.Identity(x.Cells)
		old, known := have[id]
		if known {
			x.Onto(l, old.Cells)
		}
		line := api.CatalogLine{Line: x.Line, Cells: api.CatalogCells(x.Cells), Faults: []api.FieldFault{}}
		for _, f := range x.Faults {
			line.Faults = append(line.Faults, api.FieldFault{Field: f.Field, Message: f.Message})
		}
		switch {
		case len(line.Faults) > 0:
			line.Action = "fault"
			out.Faulty++
		case !known:
			line.Action = "add"
			out.Added++
		default:
			if d := l.Difference(old.Cells, x.Cells); d != "" {
				line.Action, line.Text = "change", &d
				out.Changed++
			} else {
				line.Action = "same"
				out.Same++
			}
		}
		take = append(take, store.CatalogRow{Identity: id, Cells: x.Cells})
		if line.Action == "fault" && out.Faulty <= shownLines || len(out.Lines) < shownLines {
			out.Lines = append(out.Lines, line)
		}
	}
	if !api.Value(r.Body.Keep) {
		return api.ImportCatalog200JSONResponse(out), nil
	}
	if out.Faulty > 0 {
		var errs []problem.FieldFault
		for _, x := range lines {
			for _, f := range x.Faults {
				if len(errs) < 100 {
					errs = append(errs, problem.FieldFault{Field: "/text", Message: strings.TrimSpace("line " + strconv.Itoa(x.Line) + ": " + f.Field + " " + f.Message)})
				}
			}
		}
		return nil, problem.Fields(errs)
	}
	out.Added, out.Changed, err = s.store.TakeCatalog(ctx, l.ID, take, p.Name, api.Value(r.Body.Token))
	if err != nil {
		return nil, takenRow(l, err)
	}
	out.Kept = true
	return api.ImportCatalog200JSONResponse(out), nil
}

// GetImportProgress tells how far a file has been taken in.
func (s *Room) GetImportProgress(ctx context.Context, r api.GetImportProgressRequestObject) (api.GetImportProgressResponseObject, error) {
	done, total, err := s.store.ImportProgress(ctx, r.Token)
	return api.GetImportProgress200JSONResponse{Done: done, Total: total}, err
}

// CatalogStarter is what an empty list may begin from.
func (s *Room) CatalogStarter(ctx context.Context, r api.CatalogStarterRequestObject) (api.CatalogStarterResponseObject, error) {
	l, err := shopList(r.List)
	if err != nil {
		return nil, err
	}
	out := api.CatalogStarter200JSONResponse{}
	for _, row := range catalog.Starter(l.ID) {
		out = append(out, api.CatalogCells(row))
	}
	return out, nil
}
