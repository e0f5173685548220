package server

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

// fieldError is one fault in a request.
type fieldError struct {
	Field   string `json:"field"`
	Message string `json:"message"`
}

// problem is an error as told to clients (RFC 9457).
type problem struct {
	Type   string       `json:"type"`
	Title  string       `json:"title"`
	Status int          `json:"status"`
	Detail string       `json:"detail,omitempty"`
	Errors []fieldError `json:"errors,omitempty"`
}

func (p *problem) Error() string { return fmt.Sprintf("%d %s: %s", p.Status, p.Title, p.Detail) }

func refuse(status int, title, detail string) *problem {
	return &problem{Type: "about:blank", Title: title, Status: status, Detail: detail}
}

func refuseField(field, message string) *problem {
	return refuseFields([]fieldError{{field, message}})
}

// refuseFields tells the first faults; a person mends some and sends again.
func refuseFields(errs []fieldError) *problem {
	errs = errs[:min(len(errs), mostFaults)]
	p := refuse(http.StatusUnprocessableEntity, "Please check what was entered", errs[0].Message)
	p.Errors = errs
	return p
}

var errNotFound = refuse(http.StatusNotFound, "Not found", "There is nothing under this number; it may have been removed.")

// asProblem turns any error into what a client is told.
func asProblem(err error) *problem {
	var p *problem
	if errors.As(err, &p) {
		return p
	}
	var damaged *store.DamagedError
	if errors.As(err, &damaged) {
		return refuse(http.StatusConflict, "On record, and can't be read", say.Capital(damaged.Error())+". It is kept as it is.")
	}
	var list fault.Errors
	if errors.As(err, &list) {
		out := make([]fieldError, len(list))
		for i, e := range list {
			out[i] = fieldError{"/" + e.Field, e.Message}
		}
		return refuseFields(out)
	}
	var one *fault.Error
	if errors.As(err, &one) {
		return refuseField("/"+one.Field, one.Message)
	}
	var multi openapi3.MultiError
	var reqErr *openapi3filter.RequestError
	if errors.As(err, &multi) || errors.As(err, &reqErr) {
		return asValidation(err)
	}
	switch {
	case errors.Is(err, store.ErrNotFound):
		return errNotFound
	case errors.Is(err, context.Canceled), errors.Is(err, context.DeadlineExceeded):
		return refuse(http.StatusRequestTimeout, "Took too long", "The request was given up; try again.")
	}
	if status := echo.StatusCode(err); status >= 400 && status < 500 {
		return refuse(status, http.StatusText(status), clientDetail(status))
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

// asValidation flattens what the contract refused.
func asValidation(err error) *problem {
	var out []fieldError
	flatten(err, "", &out)
	if len(out) == 0 {
		return refuse(http.StatusBadRequest, "The request could not be read", "Send JSON as the API document describes.")
	}
	return refuseFields(out)
}

func flatten(err error, prefix string, out *[]fieldError) {
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
			*out = append(*out, fieldError{prefix, e.Reason})
			return
		}
		n := len(*out)
		flatten(e.Err, prefix, out)
		if len(*out) == n && e.Parameter != nil {
			*out = append(*out, fieldError{prefix, "a whole number above zero is expected"})
		}
	case *openapi3.SchemaError:
		field := prefix
		for _, p := range e.JSONPointer() {
			field += "/" + p
		}
		if m := unknownProperty.FindStringSubmatch(e.Reason); m != nil {
			field += "/" + m[1]
		}
		*out = append(*out, fieldError{field, schemaMessage(e)})
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

// errorHandler is the one place where errors become answers; the request's line
// in the log tells the error.
func (s *Server) errorHandler(c *echo.Context, err error) {
	if res, failed := echo.UnwrapResponse(c.Response()); failed == nil && res.Committed {
		return // answered already
	}
	r := c.Request()
	p := asProblem(err)
	if p != nil && p.Status == http.StatusRequestTimeout && errors.Is(context.Cause(r.Context()), errAway) {
		p = errAway
	}
	if p == nil {
		p = refuse(http.StatusInternalServerError, "Something broke here", "It was noted. What you entered is not lost; try again.")
		if !s.look(context.WithoutCancel(r.Context())) {
			p = errAway
		}
	}
	writeProblem(c.Response(), p)
}

func writeProblem(w http.ResponseWriter, p *problem) {
	if r, err := echo.UnwrapResponse(w); err == nil && r.Committed {
		return
	}
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(p.Status)
	if err := json.NewEncoder(w).Encode(p); err != nil {
		slog.Debug("answer not delivered", "error", err)
	}
}
