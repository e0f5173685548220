package httpd

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
	"zorvel/internal/problem"
)

// Bounds of a document.
const (
	mostDepth  = 40      // of lists and objects in each other
	mostTokens = 300_000 // names, values and brackets of a body
)

// ErrNoJSON is told of what can't be read as JSON at all.
var ErrNoJSON = problem.New(http.StatusBadRequest, http.StatusText(http.StatusBadRequest),
	"The request could not be read: send JSON as the API document describes.")

// JSON reads a body, and refuses at its field what can't be kept: broken
// UTF-8, halves of surrogate pairs, control characters other than tab and line
// ends, a name that stands twice in one object (readers differ in which of them
// counts), lists in each other without end, numbers beyond any figure, and a
// second value behind the first.
func JSON(body []byte) (any, error) { return JSONAs(body, false) }

// JSONAs reads; raw keeps control characters in texts, for what a machine wrote and
// nobody keeps.
func JSONAs(body []byte, raw bool) (any, error) {
	if !utf8.Valid(body) {
		return nil, problem.Field("", "text should be UTF-8")
	}
	r := jsonReader{Decoder: jsontext.NewDecoder(bytes.NewBuffer(body)), raw: raw}
	v, err := r.value()
	if err != nil {
		return nil, err
	}
	if _, err := r.ReadToken(); err != io.EOF {
		return nil, problem.Field("", "something follows the end of the file")
	}
	return v, nil
}

// Readable is JSON for who reads the text by other means.
func Readable(body []byte) error {
	_, err := JSON(body)
	return err
}

type jsonReader struct {
	*jsontext.Decoder
	tokens int
	raw    bool
}

// token is the next one, if there may be another.
func (r *jsonReader) token() (jsontext.Token, error) {
	if r.tokens++; r.tokens > mostTokens {
		return jsontext.Token{}, problem.New(http.StatusRequestEntityTooLarge, "Too much at once",
			fmt.Sprintf("Send at most %d values.", mostTokens))
	}
	t, err := r.ReadToken()
	if err != nil {
		return t, broken(err)
	}
	if r.StackDepth() > mostDepth {
		return t, problem.Field(string(r.StackPointer()), fmt.Sprintf("at most %d lists and objects in each other", mostDepth))
	}
	return t, nil
}

func (r *jsonReader) value() (any, error) {
	t, err := r.token()
	if err != nil {
		return nil, err
	}
	switch t.Kind() {
	case '{':
		return r.object()
	case '[':
		list := []any{}
		for r.PeekKind() != ']' {
			v, err := r.value()
			if err != nil {
				return nil, err
			}
			list = append(list, v)
		}
		_, err := r.token()
		return list, err
	case '"':
		s := t.String()
		if m := unreadable(s); m != "" && !r.raw {
			return nil, problem.Field(string(r.StackPointer()), m)
		}
		return s, nil
	case '0':
		x := t.Float()
		if m := fault.Figure(x); m != "" {
			return nil, problem.Field(string(r.StackPointer()), m)
		}
		return x, nil
	case 't', 'f':
		return t.Bool(), nil
	}
	return nil, nil
}

func (r *jsonReader) object() (any, error) {
	out := map[string]any{}
	for r.PeekKind() != '}' {
		t, err := r.token()
		if err != nil {
			return nil, err
		}
		name := t.String()
		if m := unreadable(name); m != "" {
			return nil, problem.Field(string(r.StackPointer().Parent()), m)
		}
		if out[name], err = r.value(); err != nil {
			return nil, err
		}
	}
	_, err := r.token()
	return out, err
}

// broken is what is told of text that the reader stopped at.
func broken(err error) error {
	var at *jsontext.SyntacticError
	switch {
	case !errors.As(err, &at):
		return ErrNoJSON
	case errors.Is(err, jsontext.ErrDuplicateName):
		return problem.Field(string(at.JSONPointer), "this name is here twice; give it once")
	case strings.Contains(err.Error(), "surrogate"): // it has no name of its own
		return problem.Field(string(at.JSONPointer), "a character is cut in half (a lone surrogate); type it again")
	}
	return ErrNoJSON
}

// unreadable says what in a text can't be kept or printed.
func unreadable(s string) string {
	for _, r := range s {
		if r != '\n' && r != '\r' && r != '\t' && unicode.IsControl(r) {
			return fmt.Sprintf("the control character U+%04X can't be used in text; remove it", r)
		}
	}
	return ""
}

// mostKept is how many lists and objects in each other the database keeps in one
// document (MariaDB's JSON functions refuse 32).
const mostKept = 31

// Shallow refuses a document that the database would not keep.
func Shallow(text []byte, field string) error {
	d := jsontext.NewDecoder(bytes.NewBuffer(text))
	for {
		if _, err := d.ReadToken(); err != nil {
			return nil
		}
		if d.StackDepth() > mostKept {
			return problem.Field(field+string(d.StackPointer()), fmt.Sprintf("at most %d lists and objects in each other are kept here", mostKept))
		}
	}
}
