package web

import (
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"strings"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/getkin/kin-openapi/routers/gorillamux"
	"github.com/gin-gonic/gin"

	"lagoon/internal/core/fault"
	"lagoon/internal/web/contract"
)

const (
	mostJSON   = 1 << 20
	mostUpload = 64 << 20
)

var statuses = map[fault.Kind]int{
	fault.Invalid: http.StatusUnprocessableEntity, fault.Refused: http.StatusUnprocessableEntity, fault.NotFound: http.StatusNotFound,
	fault.Duplicate: http.StatusConflict, fault.Changed: http.StatusConflict, fault.Forbidden: http.StatusForbidden, fault.SignIn: http.StatusUnauthorized,
}

// fail answers with the refusal that err is; anything else is one sentence to the
// person and the whole of it in the log.
func (h *handlers) fail(c *gin.Context, err error) {
	c.Abort()
	var f *fault.Fault
	if !errors.As(err, &f) {
		h.log.Error("request failed", "request", idOf(c), "method", c.Request.Method, "path", c.Request.URL.Path, "error", err)
	}
	if c.Writer.Written() {
		return
	}
	writeProblem(c.Writer, err)
}

// writeProblem answers with a refusal. Trouble inside Lagoon carries the request's id, by
// which the log tells more.
func writeProblem(w http.ResponseWriter, err error) {
	status, problem := problemOf(err)
	if id := w.Header().Get("X-Request-Id"); status == http.StatusInternalServerError && id != "" {
		problem.Sentence += " If it stays so, tell your administrator the number " + id + "."
	}
	w.Header().Set("Content-Type", "application/problem+json")
	w.Header().Set("Cache-Control", "no-store")
	w.WriteHeader(status)
	_ = json.NewEncoder(w).Encode(problem) // the connection is gone if this fails
}

func problemOf(err error) (int, contract.Problem) {
	var f *fault.Fault
	if !errors.As(err, &f) {
		return http.StatusInternalServerError, contract.Problem{
			Kind:     "failed",
			Sentence: "Something went wrong inside Lagoon. Nothing was booked; try again.",
			Problems: []contract.FieldProblem{},
		}
	}
	return statuses[f.Kind], contract.Problem{Kind: contract.Kind(f.Kind), Sentence: f.Sentence, Field: f.Field, Problems: fieldProblems(err)}
}

// fieldProblems are all refusals of an entry, each with its field.
func fieldProblems(err error) []contract.FieldProblem {
	var all fault.Faults
	if !errors.As(err, &all) {
		var f *fault.Fault
		if !errors.As(err, &f) {
			return []contract.FieldProblem{}
		}
		all = fault.Faults{f}
	}
	return each(all, func(f *fault.Fault) contract.FieldProblem {
		return contract.FieldProblem{Kind: contract.Kind(f.Kind), Sentence: f.Sentence, Field: f.Field}
	})
}

// unreadable is a request that does not follow the contract.
func unreadable(err error) error {
	var tooLarge *http.MaxBytesError
	if errors.As(err, &tooLarge) {
		return fault.New(fault.Invalid, "", "That is more than %d MB, which is more than can be taken at once.", tooLarge.Limit>>20)
	}
	return fault.New(fault.Invalid, "", "The request could not be read. Reload the page and try again.")
}

// validator checks requests against the contract; uploads stream past it.
func validator() (gin.HandlerFunc, error) {
	spec, err := contract.GetSpec()
	if err != nil {
		return nil, err
	}
	spec.Servers = nil
	router, err := gorillamux.NewRouter(spec)
	if err != nil {
		return nil, err
	}
	return func(c *gin.Context) {
		upload := strings.HasPrefix(c.ContentType(), "multipart/")
		limit := int64(mostJSON)
		if upload {
			limit = mostUpload
		}
		c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, limit)
		route, params, err := router.FindRoute(c.Request)
		if err != nil {
			c.Abort()
			writeProblem(c.Writer, fault.New(fault.NotFound, "", "There is nothing here."))
			return
		}
		err = openapi3filter.ValidateRequest(c.Request.Context(), &openapi3filter.RequestValidationInput{
			Request:    c.Request,
			PathParams: params,
			Route:      route,
			Options:    &openapi3filter.Options{ExcludeRequestBody: upload, AuthenticationFunc: openapi3filter.NoopAuthenticationFunc},
		})
		if err != nil {
			c.Abort()
			writeProblem(c.Writer, outOfContract(err))
			return
		}
		c.Next()
	}, nil
}

// outOfContract names the field that does not follow the contract, without the
// schema that the library's error carries.
func outOfContract(err error) error {
	var schema *openapi3.SchemaError
	if errors.As(err, &schema) {
		field := ""
		for _, part := range schema.JSONPointer() {
			if strings.Trim(part, "0123456789") == "" {
				field += "[" + part + "]"
			} else {
				field = strings.TrimPrefix(field+"."+part, ".")
			}
		}
		return fault.New(fault.Invalid, field, "%s", against(schema))
	}
	return unreadable(err)
}

// against says for a person what of the contract a value does not follow.
func against(e *openapi3.SchemaError) string {
	switch e.SchemaField {
	case "pattern": // the only one is that of numbers
		if e.Value == "" {
			return "Enter a number."
		}
		return fmt.Sprintf("“%.40s” is not a number.", fmt.Sprint(e.Value))
	case "maxLength":
		return fmt.Sprintf("This is longer than %d characters.", *e.Schema.MaxLength)
	case "maxItems":
		return fmt.Sprintf("These are more than %d.", *e.Schema.MaxItems)
	case "enum":
		return fmt.Sprintf("“%.40s” is none of what can stand here.", fmt.Sprint(e.Value))
	case "required":
		return fmt.Sprintf("This entry is not whole: %s.", strings.ReplaceAll(e.Reason, `"`, ""))
	default:
		return "This entry cannot be read here."
	}
}
