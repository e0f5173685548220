package server_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

type auditAnswer struct {
	Lines []struct {
		ID                        int64
		Who, What, About, Address string
	}
	More bool
}

// The owner finds who signed in, what left and what became of accounts; nobody else does,
// and no password is anywhere in it.
func TestOwnerFindsWhatHappened(t *testing.T) {
	srv, st := testkit.Server(t, true)
	owner, tech := as(t, srv.URL, "oda"), as(t, srv.URL, "ivar")
	stranger := newClient(t, srv.URL)
	stranger.want(401, "POST", "/api/v1/session", `{"sign_in":"ivar","password":"not-the-password"}`)
	stranger.want(401, "POST", "/api/v1/session", `{"sign_in":"start-tooth-zero","password":"ivar"}`)
	tech.want(200, "GET", "/api/v1/units/8/document", "")
	owner.want(201, "POST", "/api/v1/people", `{"sign_in":"sel","name":"Sel Mavry","role":"viewer","password":"long-enough-word"}`)
	path := fmt.Sprintf("/api/v1/people/%d", owner.person("sel").ID)
	owner.want(200, "PATCH", path, `{"role":"technician","active":false,"password":"another-long-word"}`)
	owner.want(422, "PATCH", fmt.Sprintf("/api/v1/people/%d", owner.person("oda").ID), `{"role":"viewer"}`)
	owner.want(200, "GET", "/api/v1/shop/export", "")
	tech.want(204, "DELETE", "/api/v1/session", "")
	var got auditAnswer
	answer := owner.want(200, "GET", "/api/v1/audit", "")
	answer.json(t, &got)
	var told []string
	for i, l := range got.Lines {
		told = append(told, l.Who+" "+l.What+" "+l.About)
		if l.Address == "" || (i > 0 && l.ID >= got.Lines[i-1].ID) {
			t.Errorf("%+v", l)
		}
	}
	want := []string{"Ivar Tolm signed out ", "Oda Brenk shop exported ",
		"Oda Brenk account changed Sel Mavry: role viewer → technician, switched off, new password", "Oda Brenk account added Sel Mavry: viewer",
		"Ivar Tolm unit exported Grouse 4", " sign-in refused Ivar Tolm", "Ivar Tolm signed in ", "Oda Brenk signed in "}
	if len(told) < len(want) || strings.Join(told[:len(want)], "\n") != strings.Join(want, "\n") {
		t.Errorf("told:\n%s\nwant:\n%s", strings.Join(told, "\n"), strings.Join(want, "\n"))
	}
	for _, secret := range []string{"start-tooth-zero", "another-long-word", "not-the-password"} {
		if strings.Contains(string(answer.body), secret) {
			t.Errorf("%s is told", secret)
		}
	}
	as(t, srv.URL, "runa").want(403, "GET", "/api/v1/audit", "")
	newClient(t, srv.URL).want(401, "GET", "/api/v1/audit", "")

	// A hundred a page, and nothing twice.
	for i := range 250 {
		if err := st.AddAudit(t.Context(), store.AuditLine{Who: "Oda Brenk", What: "signed in", About: fmt.Sprint(i),
			Address: strings.Repeat("x", 900)}); err != nil {
			t.Fatal(err)
		}
	}
	seen, before := map[int64]bool{}, ""
	for range 10 {
		var page auditAnswer
		owner.want(200, "GET", "/api/v1/audit"+before, "").json(t, &page)
		for _, l := range page.Lines {
			if seen[l.ID] {
				t.Errorf("%d twice", l.ID)
			}
			seen[l.ID] = true
		}
		if !page.More {
			break
		}
		before = fmt.Sprintf("?before=%d", page.Lines[len(page.Lines)-1].ID)
	}
	if len(seen) < 258 {
		t.Errorf("%d lines", len(seen))
	}
	// What is older than two years goes.
	st.ShiftClock(3 * 365 * 24 * time.Hour)
	for range 4 {
		if err := st.AddAudit(t.Context(), store.AuditLine{What: "signed in"}); err != nil {
			t.Fatal(err)
		}
	}
	if lines, err := st.AuditLines(t.Context(), 0, 500); err != nil || len(lines) != 4 {
		t.Errorf("%d lines, %v", len(lines), err)
	}
}
