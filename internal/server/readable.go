package server

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"net/http"
	"strings"
	"unicode"
	"unicode/utf8"

	"github.com/go-json-experiment/json/jsontext"

	"zorvel/core/fault"
)

// readable refuses, at its field, what reads as JSON and can't be kept: broken
// UTF-8, halves of surrogate pairs, control characters other than tab and line
// ends, a name that stands twice in one object (readers differ in which of them
// counts), lists in each other without end, numbers beyond any figure, and a
// second value behind the first. Broken JSON is left to the contract's check.
func readable(body []byte) error {
	if !utf8.Valid(body) {
		return refuseField("", "text should be UTF-8")
	}
	d := jsontext.NewDecoder(bytes.NewBuffer(body))
	for n, values := 0, 0; ; n++ {
		if n > mostTokens {
			return refuse(http.StatusRequestEntityTooLarge, "Too much at once", fmt.Sprintf("Send at most %d values.", mostTokens))
		}
		if d.StackDepth() == 0 {
			if values++; values == 2 && d.PeekKind() != 0 {
				return refuseField("", "something stands after the document")
			}
		}
		t, err := d.ReadToken()
		if err != nil {
			return broken(err)
		}
		if d.StackDepth() > mostDepth {
			return refuseField(string(d.StackPointer()), fmt.Sprintf("at most %d lists and objects in each other", mostDepth))
		}
		switch t.Kind() {
		case '"':
			if m := unreadable(t.String()); m != "" {
				at := d.StackPointer()
				if kind, length := d.StackIndex(d.StackDepth()); kind == '{' && length%2 == 1 { // it is a name
					at = at.Parent()
				}
				return refuseField(string(at), m)
			}
		case '0':
			if m := fault.Figure(t.Float()); m != "" {
				return refuseField(string(d.StackPointer()), m)
			}
		}
	}
}

// broken is what is told of text that the reader stopped at; nothing where the
// contract's check tells it.
func broken(err error) error {
	var at *jsontext.SyntacticError
	switch {
	case err == io.EOF || !errors.As(err, &at):
		return nil
	case errors.Is(err, jsontext.ErrDuplicateName):
		return refuseField(string(at.JSONPointer), "this name stands twice here; say it once")
	case strings.Contains(err.Error(), "surrogate"): // it has no name of its own
		return refuseField(string(at.JSONPointer), "a character is cut in half (a lone surrogate); type it again")
	}
	return nil
}

// unreadable says what in a text can't be kept or printed.
func unreadable(s string) string {
	for _, r := range s {
		if r != '\n' && r != '\r' && r != '\t' && unicode.IsControl(r) {
			return fmt.Sprintf("the control character U+%04X can't stand in text; take it out", r)
		}
	}
	return ""
}

// mostKept is how many lists and objects in each other the database keeps in one
// document (MariaDB's JSON functions refuse 32).
const mostKept = 31

// shallow refuses a document that the database would not keep.
func shallow(text []byte, field string) error {
	d := jsontext.NewDecoder(bytes.NewBuffer(text))
	for {
		if _, err := d.ReadToken(); err != nil {
			return nil
		}
		if d.StackDepth() > mostKept {
			return refuseField(field+string(d.StackPointer()), fmt.Sprintf("at most %d lists and objects in each other are kept here", mostKept))
		}
	}
}
