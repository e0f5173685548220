// Package problem is how errors are told: as RFC 9457 problem documents that name the
// field at fault and say what would be right.
package problem

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"regexp"
	"strings"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/labstack/echo/v5"

	"zorvel/core/fault"
	"zorvel/core/say"
	"zorvel/internal/store"
)

// FieldFault is one fault in a request; Field is a JSON pointer into it.
type FieldFault struct {
	Field   string `json:"field"`
	Message string `json:"message"`
}

// Problem is an error as told to clients (RFC 9457).
type Problem struct {
	Type   string       `json:"type"`
	Title  string       `json:"title"`
	Status int          `json:"status"`
	Detail string       `json:"detail,omitempty"`
	Errors []FieldFault `json:"errors,omitempty"`
}

// Error is the problem in one line.
func (p *Problem) Error() string { return fmt.Sprintf("%d %s: %s", p.Status, p.Title, p.Detail) }

// New is a problem with a status, a title and what would be right.
func New(status int, title, detail string) *Problem {
	return &Problem{Type: "about:blank", Title: title, Status: status, Detail: detail}
}

// most faults are told at once.
const most = 20

// Field is a fault at one field.
func Field(field, message string) *Problem {
	return Fields([]FieldFault{{field, message}})
}

// Fields tells the first faults; a person mends some and sends again.
func Fields(errs []FieldFault) *Problem {
	errs = errs[:min(len(errs), most)]
	p := New(http.StatusUnprocessableEntity, "Please check what was entered", errs[0].Message)
	p.Errors = errs
	return p
}

// NotFound is told of what isn't there.
var NotFound = New(http.StatusNotFound, "Not found", "There is nothing under this number; it may have been removed.")

// Of turns any error into what a client is told; nil where it is none of theirs.
func Of(err error) *Problem {
	var p *Problem
	if errors.As(err, &p) {
		return p
	}
	var damaged *store.DamagedError
	if errors.As(err, &damaged) {
		return New(http.StatusConflict, "On record, and can't be read", say.Capital(damaged.Error())+". It is left as it is.")
	}
	var list fault.Errors
	if errors.As(err, &list) {
		out := make([]FieldFault, len(list))
		for i, e := range list {
			out[i] = FieldFault{"/" + e.Field, e.Message}
		}
		return Fields(out)
	}
	var one *fault.Error
	if errors.As(err, &one) {
		return Field("/"+one.Field, one.Message)
	}
	var multi openapi3.MultiError
	var reqErr *openapi3filter.RequestError
	if errors.As(err, &multi) || errors.As(err, &reqErr) {
		return Invalid(err)
	}
	switch {
	case errors.Is(err, store.ErrNotFound):
		return NotFound
	case errors.Is(err, context.Canceled), errors.Is(err, context.DeadlineExceeded):
		return New(http.StatusRequestTimeout, "Took too long", "The request was given up; try again.")
	}
	if status := echo.StatusCode(err); status >= 400 && status < 500 {
		return New(status, http.StatusText(status), clientDetail(status))
	}
	return nil
}

func clientDetail(status int) string {
	switch status {
	case http.StatusNotFound:
		return "There is nothing at this address."
	case http.StatusMethodNotAllowed:
		return "This address does not take that kind of request."
	}
	return "The request could not be read: send JSON as the API document describes."
}

// Invalid flattens what the contract refused.
func Invalid(err error) *Problem {
	var out []FieldFault
	flatten(err, "", &out)
	if len(out) == 0 {
		return New(http.StatusBadRequest, "The request could not be read", "Send JSON as the API document describes.")
	}
	return Fields(out)
}

func flatten(err error, prefix string, out *[]FieldFault) {
	switch e := err.(type) {
	case openapi3.MultiError:
		for _, x := range e {
			flatten(x, prefix, out)
		}
	case *openapi3filter.RequestError:
		if e.Parameter != nil {
			prefix = "/" + e.Parameter.Name
		}
		if e.Err == nil {
			*out = append(*out, FieldFault{prefix, e.Reason})
			return
		}
		n := len(*out)
		flatten(e.Err, prefix, out)
		if len(*out) == n && e.Parameter != nil {
			*out = append(*out, FieldFault{prefix, "a whole number above zero is expected"})
		}
	case *openapi3.SchemaError:
		field := prefix
		for _, p := range e.JSONPointer() {
			field += "/" + p
		}
		if m := unknownProperty.FindStringSubmatch(e.Reason); m != nil {
			field += "/" + m[1]
		}
		*out = append(*out, FieldFault{field, schemaMessage(e)})
	default:
		if inner := errors.Unwrap(err); inner != nil {
			flatten(inner, prefix, out)
		}
	}
}

// unknownProperty finds the name in the validator's words.
var unknownProperty = regexp.MustCompile(`^property "(.+)" is unsupported$`)

// schemaMessage says what would be right.
func schemaMessage(e *openapi3.SchemaError) string {
	s := e.Schema
	switch e.SchemaField {
	case "required":
		return "is needed"
	case "maxLength":
		return fmt.Sprintf("at most %d characters", *s.MaxLength)
	case "minLength":
		if s.MinLength == 1 {
			return "must not be empty"
		}
		return fmt.Sprintf("at least %d characters", s.MinLength)
	case "pattern":
		if s.Description != "" {
			return s.Description
		}
		return "must not be empty"
	case "maximum":
		return fmt.Sprintf("at most %g", *s.Max)
	case "minimum":
		return fmt.Sprintf("at least %g", *s.Min)
	case "maxItems":
		return fmt.Sprintf("at most %d entries", *s.MaxItems)
	case "minItems":
		return fmt.Sprintf("at least %d entries", s.MinItems)
	case "enum":
		b, _ := json.Marshal(s.Enum)
		return "one of " + strings.Trim(string(b), "[]")
	case "type":
		return "should be " + strings.Join(s.Type.Slice(), " or ")
	case "properties", "additionalProperties":
		return "is not known here"
	}
	return e.Reason
}

// Write answers with a problem, unless something was answered already.
func Write(w http.ResponseWriter, p *Problem) {
	if r, err := echo.UnwrapResponse(w); err == nil && r.Committed {
		return
	}
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(p.Status)
	if err := json.NewEncoder(w).Encode(p); err != nil {
		slog.Debug("answer not delivered", "error", err)
	}
}
