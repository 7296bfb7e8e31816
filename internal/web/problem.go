package web

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/getkin/kin-openapi/routers"
	"github.com/getkin/kin-openapi/routers/gorillamux"
	"github.com/gin-gonic/gin"

	"lagoon/internal/core/fault"
	"lagoon/internal/say"
	"lagoon/internal/store"
	"lagoon/internal/web/contract"
)

// How much is read of a request: of one before sign-in, of a command, of an upload.
const (
	mostBefore = 16 << 10
	mostJSON   = 1 << 20
	mostUpload = 64 << 20
)

var statuses = map[fault.Kind]int{
	fault.Invalid: http.StatusUnprocessableEntity, fault.Refused: http.StatusUnprocessableEntity, fault.NotFound: http.StatusNotFound,
	fault.Duplicate: http.StatusConflict, fault.Changed: http.StatusConflict, fault.Forbidden: http.StatusForbidden, fault.SignIn: http.StatusUnauthorized,
	fault.Later: http.StatusTooManyRequests, fault.Media: http.StatusUnsupportedMediaType,
}

// refusals tells whether an error is what a person is told: what could not be read or written is not, though a refusal stands beside it.
func refusals(err error) bool { return fault.Only(err, store.ErrNone, context.Canceled) }

// fail answers with the refusal that err is; anything else is one sentence to the
// person and the whole of it in the log.
func (h *handlers) fail(c *gin.Context, err error) {
	c.Abort()
	if !refusals(err) {
		h.log.Error(
			"request failed",
			"request",
			idOf(c),
			"method",
			c.Request.Method,
			"path",
			cut(c.Request.URL.Path),
			"error",
			cut(err.Error()),
		)
	}
	if c.Writer.Written() {
		return
	}
	writeProblem(c.Writer, actorOf(c.Request.Context()).Printer, err)
}

// writeProblem answers with a refusal. Trouble inside Lagoon carries the request's id, by
// which the log tells more.
func writeProblem(w http.ResponseWriter, p say.Printer, err error) {
	status, problem := problemOf(p, err)
	if id := w.Header().Get("X-Request-Id"); status == http.StatusInternalServerError && id != "" {
		problem.Sentence += " If it stays so, tell your administrator the number " + id + "."
	}
	w.Header().Set("Content-Type", "application/problem+json")
	w.Header().Set("Cache-Control", "no-store")
	if f := (*fault.Fault)(nil); errors.As(err, &f) && f.Wait > 0 {
		w.Header().Set("Retry-After", strconv.Itoa(int((f.Wait+time.Second-1)/time.Second)))
	}
	w.WriteHeader(status)
	_ = json.NewEncoder(w).Encode(problem) // the connection is gone if this fails
}

func problemOf(p say.Printer, err error) (int, contract.Problem) {
	var f *fault.Fault
	if !refusals(err) || !errors.As(err, &f) {
		return http.StatusInternalServerError, contract.Problem{
			Kind:     "failed",
			Sentence: "Something went wrong inside Lagoon. Nothing was booked; try again.",
			Problems: []contract.FieldProblem{},
		}
	}
	return statuses[f.Kind], contract.Problem{
		Kind:     contract.Kind(f.Kind),
		Sentence: p.Refusal(f),
		Field:    f.Field,
		Problems: fieldProblems(p, err),
	}
}

// refusal is the sentence of a refusal, or empty where there is none.
func refusal(p say.Printer, err error) string {
	var f *fault.Fault
	if errors.As(err, &f) {
		return p.Refusal(f)
	}
	return ""
}

// fieldProblems are all refusals of an entry, each with its field.
func fieldProblems(p say.Printer, err error) []contract.FieldProblem {
	var all fault.Faults
	if !errors.As(err, &all) {
		var f *fault.Fault
		if !errors.As(err, &f) {
			return []contract.FieldProblem{}
		}
		all = fault.Faults{f}
	}
	return each(all, func(f *fault.Fault) contract.FieldProblem {
		return contract.FieldProblem{Kind: contract.Kind(f.Kind), Sentence: p.Refusal(f), Field: f.Field}
	})
}

// both adds to what cannot be read of an entry what else stands against it, so that all is
// said at the same time.
func both(unreadable, others error) error {
	var all, more fault.Faults
	if !errors.As(unreadable, &all) {
		return unreadable
	}
	if others != nil && !errors.As(others, &more) {
		return others
	}
	return append(all, more...)
}

func sizeOf(n int64) string {
	if n < 1<<20 {
		return fmt.Sprintf("%d kB", n>>10)
	}
	return fmt.Sprintf("%d MB", n>>20)
}

// unreadable is a request that does not follow the contract.
func unreadable(err error) error {
	var tooLarge *http.MaxBytesError
	if errors.As(err, &tooLarge) {
		return fault.New(
			fault.Invalid,
			"",
			"That is more than %s, which is more than can be taken at once.",
			sizeOf(tooLarge.Limit),
		)
	}
	return fault.New(fault.Invalid, "", "The request could not be read. Reload the page and try again.")
}

// routes are the contract's; it is read once.
var routes = sync.OnceValues(func() (routers.Router, error) {
	spec, err := contract.GetSpec()
	if err != nil {
		return nil, err
	}
	spec.Servers = nil
	return gorillamux.NewRouter(spec)
})

// validator checks requests against the contract. What kind of content an operation
// takes is the contract's to say, never the request's: an upload streams past the check
// where the contract has one, and nowhere else.
func validator() (gin.HandlerFunc, error) {
	router, err := routes()
	if err != nil {
		return nil, err
	}
	return func(c *gin.Context) {
		route, params, err := router.FindRoute(c.Request)
		if err != nil {
			c.Abort()
			writeProblem(c.Writer, say.Printer{}, fault.New(fault.NotFound, "", "There is nothing here."))
			return
		}
		taken := mediaOf(route.Operation)
		limit := int64(mostJSON)
		switch {
		case taken == upload:
			limit = mostUpload
		case public[c.FullPath()]:
			limit = mostBefore
		}
		c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, limit)
		if taken != "" && c.ContentType() != taken {
			c.Abort()
			writeProblem(
				c.Writer,
				say.Printer{},
				fault.New(
					fault.Media,
					"",
					"This takes %s, and was sent %s.",
					taken,
					cmp.Or(c.ContentType(), "nothing that says what it is"),
				),
			)
			return
		}
		if taken == upload {
			if err := enter(c, uploadWait); err != nil {
				c.Abort()
				writeProblem(c.Writer, say.Printer{}, err)
				return
			}
		}
		err = openapi3filter.ValidateRequest(c.Request.Context(), &openapi3filter.RequestValidationInput{
			Request:    c.Request,
			PathParams: params,
			Route:      route,
			Options: &openapi3filter.Options{
				ExcludeRequestBody: taken != "application/json",
				AuthenticationFunc: openapi3filter.NoopAuthenticationFunc,
				MultiError:         true,
			},
		})
		if err != nil {
			c.Abort()
			writeProblem(c.Writer, say.Printer{}, outOfContract(err))
			return
		}
		c.Next()
	}, nil
}

const upload = "multipart/form-data"

// mediaOf is the one kind of content that an operation takes, or nothing.
func mediaOf(operation *openapi3.Operation) string {
	if operation.RequestBody == nil {
		return ""
	}
	for _, media := range []string{upload, "application/json"} {
		if operation.RequestBody.Value.Content[media] != nil {
			return media
		}
	}
	return ""
}

// mostAgainst is how many fields of a request are named that do not follow the contract.
const mostAgainst = 50

// outOfContract names every field that does not follow the contract, without the schema
// that the library's errors carry.
func outOfContract(err error) error {
	var all fault.Faults
	for _, e := range schemaErrors(err) {
		if len(all) < mostAgainst {
			all = append(all, fault.New(fault.Invalid, fieldOf(e), "%s", against(e)))
		}
	}
	if len(all) == 0 {
		return unreadable(err)
	}
	return all
}

// schemaErrors are what err says of single fields, in the order of the request.
func schemaErrors(err error) []*openapi3.SchemaError {
	var several openapi3.MultiError
	var request *openapi3filter.RequestError
	var schema *openapi3.SchemaError
	switch {
	case errors.As(err, &several):
		var all []*openapi3.SchemaError
		for _, e := range several {
			all = append(all, schemaErrors(e)...)
		}
		return all
	case errors.As(err, &request):
		return schemaErrors(request.Err)
	case errors.As(err, &schema):
		return []*openapi3.SchemaError{schema}
	}
	return nil
}

// fieldOf is the field that an error belongs to, as the contract names it.
func fieldOf(e *openapi3.SchemaError) string {
	field := ""
	for _, part := range e.JSONPointer() {
		if strings.Trim(part, "0123456789") == "" {
			field += "[" + part + "]"
		} else {
			field = strings.TrimPrefix(field+"."+part, ".")
		}
	}
	return field
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
