package pipeline

import (
	"cmp"
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/setting"
	"turret/internal/web/page"
)

// composeView is what the form of a proposal asks for.
type composeView struct {
	page.SectionFrame
	Action, Back string
	Rows         []composeRow
	Problem      string
	Was          []setting.FormPart
}

type composeRow struct {
	N                        int
	Part, Title, Place, Help string
	Asked                    []page.Option
}

func (s *pages) composed(c fiber.Ctx) error { return s.showComposed(c, nil, nil) }

func (s *pages) showComposed(c fiber.Ctx, typed []setting.FormPart, refused error) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	if !access.ActorOf(c.Context()).MayWhole(access.Judge) {
		return fmt.Errorf("composing the form of proposals: %w", access.ErrForbidden)
	}
	v := composeView{SectionFrame: frame(r, "Propose"), Action: r.To("/pipeline/form"), Back: r.To("/pipeline/new")}
	v.Headline = []page.Spoken{{Text: "What does a proposal have to say?"}}
	v.Was = r.Figures.Settings.ProposalParts()
	parts := typed
	if parts == nil { // "as shipped" types nothing
		parts = v.Was
	}
	if refused != nil {
		c.Status(http.StatusUnprocessableEntity)
		v.Problem = page.RefusedText(refused)
	}
	for i, p := range parts {
		v.row(r, p, strconv.Itoa(i+1))
	}
	all := setting.FormParts()
	for _, own := range r.Figures.Masters.Own {
		all = append(all, own.Name)
	}
	for _, key := range all {
		if !slices.ContainsFunc(parts, func(p setting.FormPart) bool { return p.Part == key }) {
			v.row(r, setting.FormPart{Part: key}, "")
		}
	}
	return r.Answer("pipeline-form", &v.Page, &v)
}

// row adds a part; one without a place is not asked for.
func (v *composeView) row(r *page.Request, p setting.FormPart, place string) {
	row := composeRow{N: len(v.Rows), Part: p.Part, Title: partTitles[p.Part], Place: place, Help: p.Help}
	f := &former{r: r}
	if c, ok := f.own(p.Part); ok {
		row.Title = c.Head()
	}
	if row.Title == "" {
		row.Title = p.Part + ", which is gone"
	}
	now := "no"
	switch {
	case place != "" && p.Required:
		now = "must"
	case place != "":
		now = "yes"
	}
	for _, x := range [][2]string{{"no", "not asked"}, {"yes", "asked"}, {"must", "asked, and has to be answered"}} {
		row.Asked = append(row.Asked, page.Option{Value: x[0], Text: x[1], Selected: x[0] == now})
	}
	v.Rows = append(v.Rows, row)
}

// compose takes in what the form is to ask for.
func (s *pages) compose(c fiber.Ctx) error {
	parts, err := composedOf(c)
	if c.FormValue("shipped") != "" {
		parts, err = nil, nil
	}
	if err == nil {
		var was []setting.FormPart
		if was, err = composedFrom(c.FormValue("was")); err == nil {
			err = s.Office.Setting.ComposeForm(c.Context(), parts, was)
		}
	}
	return page.AnsweredWith(c, err, "The form is composed.", "/pipeline/form", func(refused error) error {
		return s.showComposed(c, parts, refused)
	})
}

// Made is how the form carries the parts that it was made from.
func (v *composeView) Made() (string, error) {
	b, err := json.Marshal(v.Was)
	return string(b), err
}

// composedFrom reads the parts that a form was made from; nil where it does not tell.
func composedFrom(text string) (parts []setting.FormPart, err error) {
	if text == "" {
		return nil, nil
	}
	if err := json.Unmarshal([]byte(text), &parts); err != nil {
		return nil, fiber.NewError(fiber.StatusBadRequest, "The form cannot be read: what it was made from is damaged. Reload the page.")
	}
	return parts, nil
}

// composedOf reads the parts that are asked for, by their places; those without one stand last.
func composedOf(c fiber.Ctx) ([]setting.FormPart, error) {
	type placed struct {
		setting.FormPart
		place int
	}
	var list []placed
	var wrong error
	n, _ := strconv.Atoi(c.FormValue("rows"))
	for i := range min(max(n, 0), 200) {
		get := func(name string) string {
			return strings.TrimSpace(strings.Clone(c.FormValue(name + "-" + strconv.Itoa(i))))
		}
		asked := get("asked")
		if asked != "yes" && asked != "must" {
			continue
		}
		x := placed{setting.FormPart{Part: get("part"), Help: get("help"), Required: asked == "must"}, 1000}
		if text := get("place"); text != "" {
			place, err := strconv.Atoi(text)
			if err != nil && wrong == nil {
				wrong = fault.Field("place", fault.Clip(text, 20), "a number, such as 1 for the first")
			}
			x.place = place
		}
		list = append(list, x)
	}
	slices.SortStableFunc(list, func(x, y placed) int { return cmp.Compare(x.place, y.place) })
	parts := []setting.FormPart{} // none at all is another thing than as shipped
	for _, x := range list {
		parts = append(parts, x.FormPart)
	}
	return parts, wrong
}
