package web

import (
	"encoding/json"
	"fmt"
	"maps"
	"math/rand/v2"
	"net/http"
	"net/url"
	"os"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/stretchr/testify/require"

	"lagoon/internal/jobs/invoices"
	"lagoon/internal/prove"
	"lagoon/internal/web/contract"
)

// hostile is what nobody means: too long, no number, no day, no letter, or meant for another program.
var hostile = []string{
	"",
	" ",
	"-1",
	"0",
	"0.0000001",
	"1e3",
	"99999999999999999999",
	"NaN",
	"ten",
	"１２",
	"\u0000",
	"π\u202e",
	strings.Repeat("x", 5_000),
	"<script>",
	"2026-02-30",
	"0000-00-00",
	"9999-12-31",
	"'; DROP TABLE audit; --",
	"=1+1",
	"../../etc/passwd",
	"\r\nBcc: x@y.example",
}

// sender makes commands of the contract that are likely, with a hostile value here and there.
type sender struct {
	*rand.Rand
	likely map[string][]string // what fields of a name are likely to hold
	open   []int64             // numbers of orders that something can still come on
	path   string              // where the command that is being made goes
}

// likelier is what fields hold in some commands where other commands have other things under the name.
var likelier = map[string]string{
	"/api/suppliers code": "BRACK NEW-1 NEW-2 NEW-3", "/api/suppliers kind": "regular delivery", "/api/suppliers currency": "EUR", "/api/suppliers taxId": "IE9700099X", "/api/suppliers role": "sales",
	"/api/items code": "KRILL NEW-A NEW-B", "/api/items kind": "delivery", "/api/items lots": "yes no", "/api/items budget": "FEED", "/api/orders kind": "freight delivery",
	"/api/suppliers/{code}/notes kind": "general delivery", "/api/suppliers/{code}/prices base": "1", "/api/suppliers/{code}/prices item": "KRILL CAPELIN",
}

func newSender(t *testing.T, c *http.Client, base string, seed uint64) *sender {
	s := &sender{Rand: rand.New(rand.NewPCG(2026, seed)), likely: map[string][]string{}}
	for _, x := range fetch[contract.SupplierNames](t, c, base+"/api/suppliers").Rows {
		s.likely["supplier"] = append(s.likely["supplier"], x.Code)
	}
	for _, x := range fetch[contract.ItemNames](t, c, base+"/api/items").Rows {
		s.likely["item"] = append(s.likely["item"], x.Code)
	}
	for _, x := range fetch[contract.OpenLines](t, c, base+"/api/lines").Rows {
		s.open = append(s.open, x.Order)
	}
	s.likely["payTo"] = append([]string{"", "", ""}, s.likely["supplier"]...)
	for names, values := range map[string]string{
		"quantity refused price amount discount charge absolute least makes units stated total": "0 1 2.5 10 12 40 250.75 1000",
		"statedTotal leastOrder freeFrom authority":                                             "0.00 100.00 384.00 1250.50",
		"percent taxRate discountPercent rate":                                                  "0 2 5 10 13.5 23",
		"day date wantedOn expectedOn promisedOn payOn dueBy postingDay from bestBefore":        "2026-11-20 2026-11-23 2026-11-23 2026-11-23 2026-12-01 2027-01-31",
		"unit": "KGM XCT C62 TNE", "budget budget-year": "FEED WATER SHOP", "lot": "CM-2211 CM-2214 L-1", "country": "IE DE FR", "currency": "EUR USD", "language": "en de fr", "month": "2025-12 2026-01",
		"kind": "order reminder regular general freight delivery unit_price credit_note", "side": "over under", "outcome": "credit replacement", "way": "otherwise mail", "account": "stock expense",
		"level": "two_way three_way", "mail": "desk@brackwater.example", "to": "desk@brackwater.example", "purposes": "ordering payment", "stages": "orders receiving", "iban": "DE89370400440532013000",
		"bic": "COBADEFF", "lots": "CM-2211", "hold": "payment_held in_dispute nothing_ordered", "taxCategory": "S Z", "base": "1 100", "reason": "goods price late", "closedDays": "67 7", "until": "2027-01-31",
	} {
		for _, name := range strings.Fields(names) {
			s.likely[name] = strings.Fields(values)
		}
	}
	return s
}

func oneOf[T any](s *sender, list []T) T { return list[s.IntN(len(list))] }

// numbers of documents that the demo's year has made, by the first part of an address or the name of a field.
var made = map[string][2]int{
	"orders":     {4060, 4125},
	"order":      {4060, 4125},
	"deliveries": {7000, 7112},
	"delivery":   {7000, 7112},
	"invoices":   {1000, 1110},
	"invoice":    {1000, 1110},
	"runs":       {330, 356},
	"holds": {
		1,
		12,
	},
	"drafts":     {1, 3},
	"notices":    {1, 4},
	"arrivals":   {1, 3},
	"line":       {1, 3},
	"no":         {1, 3},
	"version":    {0, 0},
	"orderLine":  {1, 3},
	"netDays":    {0, 60},
	"dayOfMonth": {0, 31},
}

func (s *sender) number(name string) int {
	if strings.TrimSuffix(name, "s") == "order" && s.IntN(2) == 0 {
		return int(oneOf(s, s.open))
	}
	span, known := made[name]
	if !known || s.IntN(25) == 0 {
		span = [2]int{-1, 3}
	}
	return span[0] + s.IntN(span[1]-span[0]+1)
}

// value makes one of a schema.
func (s *sender) value(name string, ref *openapi3.SchemaRef) any {
	schema := ref.Value
	switch {
	case schema.Type.Is("object"):
		all := map[string]any{}
		for _, property := range slices.Sorted(maps.Keys(schema.Properties)) {
			if slices.Contains(schema.Required, property) || s.IntN(6) == 0 {
				all[property] = s.value(property, schema.Properties[property])
			}
		}
		return all
	case schema.Type.Is("array"):
		all := []any{}
		for range 1 + s.IntN(2) {
			all = append(all, s.value(name, schema.Items))
		}
		return all
	case schema.Type.Is("boolean"):
		return s.IntN(2) == 0
	case schema.Type.Is("integer"):
		return s.number(name)
	case s.IntN(50) == 0:
		return oneOf(s, hostile)
	case len(schema.Enum) > 0:
		return oneOf(s, schema.Enum)
	case likelier[s.path+" "+name] != "":
		return oneOf(s, strings.Fields(likelier[s.path+" "+name]))
	case len(s.likely[name]) > 0:
		return oneOf(s, s.likely[name])
	default:
		return fmt.Sprintf("%s %d", name, s.IntN(1000))
	}
}

// address fills the names in a path.
func (s *sender) address(path string) string {
	first := strings.Split(path, "/")[2]
	return regexp.MustCompile(`\{(\w+)\}`).ReplaceAllStringFunc(path, func(name string) string {
		switch name {
		case "{code}":
			return oneOf(s, s.likely[strings.TrimSuffix(first, "s")])
		case "{kind}":
			return "items"
		default:
			return fmt.Sprint(s.number(first))
		}
	})
}

// question makes a question of the contract.
func (s *sender) question(path string, get *openapi3.Operation) string {
	asked := url.Values{}
	for _, p := range get.Parameters {
		if p.Value.In == "query" && (p.Value.Required || s.IntN(2) == 0) {
			asked.Set(p.Value.Name, fmt.Sprint(s.value(p.Value.Name, p.Value.Schema)))
		}
	}
	return s.address(path) + "?" + asked.Encode()
}

// Whatever is sent to a command, it is done, or refused in a sentence for a person; whatever is asked after that is
// answered or refused likewise; and the books still say what their documents say.
func TestWhateverIsSent(t *testing.T) {
	server, app := serveAquariumWith(t)
	admin := signInAs(t, server, "rhea")
	var people []*http.Client
	for _, login := range []string{"una", "otto"} { // two who may do everything, so that one can do what the other may not at their own
		answered[contract.Done](t, admin, server.URL+"/api/people", contract.PersonEntry{Login: login, Name: login, Password: password, Authority: "5000",
			Roles: []contract.Role{"buyer", "receiver", "clerk", "approver", "treasurer", "administrator"}})
		people = append(people, signInWith(t, server, login, password))
	}
	rounds, seed := 1_500, uint64(11)
	if os.Getenv("LAGOON_SLOW") != "" {
		rounds, seed = 20*rounds, rand.Uint64()
	}
	s := newSender(t, admin, server.URL, seed)
	spec, err := contract.GetSpec()
	require.NoError(t, err)
	paths := slices.DeleteFunc(slices.Sorted(maps.Keys(spec.Paths.Map())), func(path string) bool {
		post := spec.Paths.Find(path).Post
		return post == nil || post.Extensions["x-roles"] == nil || post.RequestBody == nil || post.RequestBody.Value.Content["application/json"] == nil ||
			path == "/api/people" || path == "/api/company" // what changes who may do what at all is left out
	})
	done, refused := map[string]int{}, map[contract.Kind]int{}
	give := func(path, method, at, body string) {
		t.Helper()
		response, problem := send(t, oneOf(s, people), method, server.URL+at, "application/json", body)
		told := fmt.Sprintf("%s %.600s: %d %s", at, body, response.StatusCode, problem.Sentence)
		require.Less(t, response.StatusCode, 500, told)
		if response.StatusCode < 300 {
			done[path]++
			return
		}
		require.NotEmpty(t, problem.Sentence, told)
		require.NotRegexp(t, `(?i)sql|constraint|\bnil\b|panic|goroutine|json:|schema|regular expression`, problem.Sentence, told)
		refused[problem.Kind]++
	}
	for range rounds {
		path := oneOf(s, paths)
		s.path = path
		body, err := json.Marshal(s.value("", spec.Paths.Find(path).Post.RequestBody.Value.Content["application/json"].Schema))
		require.NoError(t, err)
		give(path, "POST", s.address(path), string(body))
	}
	t.Log(len(done), "of", len(paths), "commands were done at least once from seed", seed, done, "refused:", refused)
	require.NoError(t, invoices.Drain(t.Context(), app))
	for _, path := range slices.Sorted(maps.Keys(spec.Paths.Map())) {
		for range rounds / 300 {
			if item := spec.Paths.Find(path); item.Get != nil && path != "/api/live" { // which never ends
				give(path, "GET", s.question(path, item.Get), "")
			}
		}
	}
	verified, err := prove.Books(t.Context(), app)
	require.NoError(t, err)
	require.Empty(t, verified.Differences)
}
