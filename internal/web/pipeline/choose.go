package pipeline

import (
	"fmt"
	"html/template"
	"net/url"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/pipeline"
	"turret/internal/chart"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// chooseView is what is best chosen under limits that are typed beside what is wanted.
type chooseView struct {
	page.SectionFrame
	Value       []page.Option
	Limits      []limitRow
	Rows        []chosenRow
	Why         []string
	Note        string
	Frontier    template.HTML
	Points      []pointRow
	Money       bool
	With        []page.Option // choices kept by name
	Against     string        // the one that this is held against
	AgainstSays string
	TakeOver    string
	Hold        string // address in which people are held to what is free
	Problem     string
	Empty       string
	Heads       []string // of what is used, by limit
	Ahead       *aheadPart
}

type limitRow struct {
	Field, Name, Label  string
	Wanted, Free, Limit string
	Used, GivesUp       string
	Bar                 int // used, of 100
	Short               bool
}

type chosenRow struct {
	Code, Name, Href         string
	Value, Price, PriceTitle string
	Cost                     string
	Keeps                    string
	In                       bool
	Other                    string // how it stands in the choice beside
	Differs                  bool
	Use                      []string
}

type pointRow struct{ Budget, Value string }

func (s *pages) selection(c fiber.Ctx) error {
	r, scope, p, err := s.read(c)
	if err != nil {
		return err
	}
	v := chooseView{SectionFrame: frame(r, "Selection"), Money: !r.Figures.NoMoney}
	v.Carry(r)
	list := slices.DeleteFunc(proposedIn(scope), func(x *measure.Project) bool { return p.Declined(x.Code) })
	value := v.values(r, p)
	if len(list) == 0 {
		v.Empty = "Nothing is proposed here that is not declined, so there is nothing to choose among."
		v.Headline = []page.Spoken{{Text: "There is nothing to choose among."}}
		return r.Answer("pipeline-selection", &v.Page, &v)
	}
	wanted, err := pipeline.WantedOf(c.Context(), r.Figures, list)
	if err != nil {
		return err
	}
	q := pipeline.Question{Value: value, Scope: r.Scope, Quick: true}
	q.Limits, err = pipeline.LimitsOf(r.Asked, r.Figures.Env.YearMonth)
	if err == nil {
		var choice *pipeline.Choice
		if choice, err = pipeline.Choose(c.Context(), r.Figures, p, q); err == nil {
			v.fill(r, p, choice)
			v.limits(r, wanted, choice)
			v.frontier(r, choice)
			if err := s.ahead(r, &v, choice); err != nil {
				return err
			}
			var other *against
			if other, err = s.compare(r, p, &v); err != nil {
				return err
			}
			v.differ(other)
			return r.Answer("pipeline-selection", &v.Page, &v)
		}
	}
	refused := page.Refused(err)
	if refused == nil {
		return err
	}
	c.Status(fiber.StatusUnprocessableEntity)
	v.Problem = page.RefusedText(refused)
	v.Headline = []page.Spoken{{Text: "Nothing was chosen."}}
	v.limits(r, wanted, nil)
	return r.Answer("pipeline-selection", &v.Page, &v)
}

// valueKeys are the measures that a choice is offered to have most of, besides scores.
var valueKeys = measure.Texts(measure.BenefitPlanned, measure.BAC)

// values offers what a choice is made by, and returns what is asked for.
func (v *chooseView) values(r *page.Request, p *pipeline.Pipeline) string {
	now := r.Asked.Get("value")
	add := func(value, text string) {
		if now == "" {
			now = value
		}
		v.Value = append(v.Value, page.Option{Value: value, Text: text, Selected: value == now})
	}
	for i := range p.Models {
		add("score:"+p.Models[i].Code, "score of "+p.Models[i].Code)
	}
	for _, key := range valueKeys {
		if d, ok := measure.Lookup(key); ok && !(r.Figures.NoMoney && d.IsCost()) {
			add(key, write.Within(d.Name))
		}
	}
	if d, ok := measure.Lookup(now); ok && !slices.Contains(valueKeys, now) {
		add(now, write.Within(d.Name))
	}
	return now
}

func (v *chooseView) fill(r *page.Request, p *pipeline.Pipeline, c *pipeline.Choice) {
	if c.Result == nil {
		v.Why = c.Why()
		v.Headline = []page.Spoken{{Text: "Nothing keeps to the musts and the limits."}}
		return
	}
	var chosen []string
	pick := []string{}
	cur := r.Figures.Env.Currency
	for i := range c.Rows {
		x := &c.Rows[i]
		row := chosenRow{Code: x.Project.Code, Name: x.Project.Name, Href: r.To(page.ProjectPath(x.Project.Code) + "/proposal"), In: x.In,
			Value: c.Words(x.Value), Price: c.Words(x.Price), Cost: money.Amount(x.Project.Account.Budget()).Short(cur)}
		for _, q := range p.Requirements[x.Project.Code] {
			row.Keeps = write.Joined(", ", row.Keeps, write.Joined(" ", q.Kind, q.Other))
		}
		switch {
		case !x.Value.Given:
			row.PriceTitle = "it has no value, so it is never chosen"
		case !x.Price.Given && x.In:
			row.PriceTitle = "nothing keeps to the musts and limits without it"
		case !x.Price.Given:
			row.PriceTitle = "nothing keeps to the musts and limits with it"
		case x.In:
			row.PriceTitle = "lost, were it left out"
		default:
			row.PriceTitle = "lost, were it chosen"
		}
		for k := range c.Limits {
			use := c.Amount(k, x.Use[k])
			if c.Limits[k].Money() {
				use = money.Amount(x.Use[k]).Short(cur)
			}
			row.Use = append(row.Use, use)
		}
		if x.In {
			chosen, pick = append(chosen, x.Project.Name), append(pick, "pick", x.Project.Code)
		}
		v.Rows = append(v.Rows, row)
	}
	for _, l := range c.Limits {
		v.Heads = append(v.Heads, limitLabel(l))
	}
	slices.SortStableFunc(v.Rows, func(x, y chosenRow) int {
		if x.In == y.In {
			return 0
		}
		if x.In {
			return -1
		}
		return 1
	})
	v.Headline = []page.Spoken{{Text: v.says(r, c, len(chosen))}}
	v.Note = "It is proved that nothing is better."
	if !c.Result.Proven {
		v.Note = "Nothing better was found in the time allowed; nothing has more than " + c.Words(fact.Some(c.Result.Bound)) + "."
	}
	if c.Result.Rough > 0 {
		v.Note += " " + write.Count(c.Result.Rough, "price is", "prices are") + " not proved, and may be less."
	}
	if mayJudge(r) && len(pick) > 0 {
		v.TakeOver = withPicks(r, pick) + "#decide"
	}
}

// says tells how many are chosen, and what they are worth and cost.
func (v *chooseView) says(r *page.Request, c *pipeline.Choice, chosen int) string {
	all := write.Count(len(c.Rows), "proposal", "proposals")
	verb := "are"
	switch chosen {
	case 0:
		return "None of " + all + " is chosen: none has a value, or nothing keeps to the limits."
	case 1:
		verb = "is"
	}
	text := fmt.Sprintf("%d of %s %s best chosen: %s in all", chosen, all, verb, c.Words(fact.Some(c.Result.Value)))
	if !r.Figures.NoMoney {
		text += " for " + money.Amount(c.Spent()).Short(r.Figures.Env.Currency)
	}
	return text + "."
}

// withPicks is the address of the proposals with some of them ticked.
func withPicks(r *page.Request, pairs []string) string {
	to := r.To("/pipeline/proposals")
	q := url.Values{}
	for i := 0; i+1 < len(pairs); i += 2 {
		q.Add(pairs[i], pairs[i+1])
	}
	if strings.Contains(to, "?") {
		return to + "&" + q.Encode()
	}
	return to + "?" + q.Encode()
}

func limitLabel(l *pipeline.Limit) string {
	if l.Role != "" {
		return l.Role + ", " + l.Name[strings.LastIndex(l.Name, ":")+1:]
	}
	return strings.ReplaceAll(l.Name, ":", ", ")
}

// limits are the fields in which limits are typed, beside what is wanted and what the choice uses.
func (v *chooseView) limits(r *page.Request, wanted []pipeline.Wanted, c *pipeline.Choice) {
	cur := r.Figures.Env.Currency
	at := map[string]int{}
	var hold []string
	for i := range wanted {
		w := &wanted[i]
		row := limitRow{Field: pipeline.LimitPrefix + w.Limit.Name, Name: w.Limit.Name, Label: limitLabel(w.Limit)}
		if w.Limit.Money() {
			row.Wanted = money.Amount(w.All).Short(cur)
		} else {
			row.Wanted, row.Free = page.FTE(w.FTE(r.Figures, w.All).N), page.FTE(w.FTE(r.Figures, w.Free.N).N)
			row.Short = w.Free.N < w.All
		}
		if row.Short {
			hold = append(hold, row.Field, money.Plain(max(0, w.FTE(r.Figures, w.Free.N).N), 2))
		}
		at[w.Limit.Name] = len(v.Limits)
		v.Limits = append(v.Limits, row)
	}
	if len(hold) > 0 {
		v.Hold = r.Here(hold...)
	}
	for name := range r.Asked {
		key := strings.TrimPrefix(name, pipeline.LimitPrefix)
		if !strings.HasPrefix(name, pipeline.LimitPrefix) || strings.TrimSpace(r.Asked.Get(name)) == "" {
			continue
		}
		if _, ok := at[key]; !ok { // a limit of what nobody wants, or one of capital or operating alone
			at[key] = len(v.Limits)
			v.Limits = append(v.Limits, limitRow{Field: name, Name: key, Label: strings.ReplaceAll(key, ":", ", ")})
		}
		v.Limits[at[key]].Limit = r.Asked.Get(name)
	}
	if c == nil || c.Result == nil {
		return
	}
	for k, l := range c.Limits {
		row := &v.Limits[at[l.Name]]
		row.Used = c.Used(k)
		if l.Money() {
			row.Used = money.Amount(c.Result.Used[k]).Short(cur)
		}
		if most := c.Most(k); most > 0 {
			row.Bar = int(max(0, min(100, 100*float64(c.Result.Used[k])/float64(most))))
		}
		if n := c.Result.GivesUp[k]; n.Given && n.N > 0 {
			row.GivesUp = c.Words(n)
		}
	}
}

// frontier draws the best value at each budget, with the choice on it or below it.
func (v *chooseView) frontier(r *page.Request, c *pipeline.Choice) {
	if c.Result == nil || r.Figures.NoMoney || len(c.Rows) > mostDrawn {
		return
	}
	cur := r.Figures.Env.Currency
	var points []chart.FrontierPoint
	for _, x := range c.Frontier(r.Context()) {
		points = append(points, chart.FrontierPoint{Budget: float64(x.Budget), Value: float64(x.Value)})
		v.Points = append(v.Points, pointRow{money.Amount(x.Budget).Human(cur), c.Words(fact.Some(x.Value))})
	}
	opt := chart.FrontierOptions{W: 560, H: 300, Budget: func(n float64) string { return money.Amount(n).Short(cur) },
		Value: func(n float64) string { return c.Words(fact.Some(int64(n))) }}
	now := chart.FrontierPoint{Budget: float64(c.Spent()), Value: float64(c.Result.Value)}
	v.Frontier = template.HTML(chart.Frontier(points, now, opt).SVG()) // texts of a scene are escaped
}

// mostDrawn is up to how many candidates the frontier is counted of while somebody waits.
const mostDrawn = 200
