/* timeline.c - a play over time: fingers, decisions, host, text. */
#include "timeline.h"

#include "uvrek/sheet.h"

#include <string.h>

#define LARGE      19.0
#define CHAR_LANES 2u
#define AT_ONCE    3000u /* microseconds: a press that waited for nothing */

static const struct uvk_moment *moment_at(const struct drawing *drawing, guint index)
{
    return &g_array_index(drawing->outcome->moments, struct uvk_moment, index);
}

static guint moment_count(const struct drawing *drawing)
{
    return drawing->outcome->moments->len;
}

/* From a little before the first finger to a little after the last thing that happened. */
static void find_span(struct drawing *drawing)
{
    uint64_t start = drawing->outcome->start;
    uint64_t first = UINT64_MAX;
    uint64_t last = start;

    for (guint i = 0; i < moment_count(drawing); i++) {
        const struct uvk_moment *moment = moment_at(drawing, i);
        if (moment->time >= start) {
            first = MIN(first, moment->time);
            last = MAX(last, moment->time);
        }
    }
    drawing->first = first == UINT64_MAX ? start : MAX(start, first - MIN(first, 5000));
    drawing->last = MAX(last + (last - drawing->first) / 20, drawing->first + 20000);
}

static void bar(struct drawing *drawing, uint64_t from, uint64_t to, enum tone fill,
                bool hatched)
{
    double x = timeline_x(drawing, from);

    canvas_box(drawing->canvas, x, drawing->y + (LANE - BAR) / 2,
               MAX(timeline_x(drawing, to) - x, 2), BAR, fill, TONE_INK, hatched);
}

/* ---- fingers and decisions ---------------------------------------------------------- */

/* Does a press of SOURCE have a part in what the decision was about? */
static bool is_about(const struct drawing *drawing, const struct uvk_moment *decision,
                     unsigned source)
{
    const struct uvk_combo_text *combo = drawing->program->keymap->combos;

    if (decision->source < UVK_FIRST_COMBO) {
        return decision->source == source;
    }
    for (unsigned row = decision->decision.combo; row > 0; row--) {
        combo = combo->next;
    }
    for (unsigned i = 0; i < combo->key_count; i++) {
        if (combo->keys[i] == source) {
            return true;
        }
    }
    return false;
}

/* The decision about the press of SOURCE at TIME; NULL if there is none. A contact is seen
 * within two passes; of a combo, the first key's press is the one that counts. */
static const struct uvk_moment *decision_of(const struct drawing *drawing, unsigned source,
                                            uint64_t time)
{
    for (guint i = 0; i < moment_count(drawing); i++) {
        const struct uvk_moment *moment = moment_at(drawing, i);
        bool combo = moment->kind == UVK_MOMENT_DECISION && moment->source >= UVK_FIRST_COMBO;
        if (moment->kind == UVK_MOMENT_DECISION && moment->time >= time &&
            moment->since <= time + 5000 && (combo || moment->since + 3000 >= time) &&
            is_about(drawing, moment, source)) {
            return moment;
        }
    }
    return NULL;
}

/* A chip keeps no decisions: then nothing is known of any press. */
static bool knows_decisions(const struct drawing *drawing)
{
    for (guint i = 0; i < moment_count(drawing); i++) {
        if (moment_at(drawing, i)->kind == UVK_MOMENT_DECISION) {
            return true;
        }
    }
    return false;
}

static uint64_t released_at(const struct drawing *drawing, unsigned source, guint from)
{
    for (guint i = from; i < moment_count(drawing); i++) {
        const struct uvk_moment *moment = moment_at(drawing, i);
        if (moment->kind == UVK_MOMENT_TOUCH && moment->source == source && !moment->down) {
            return moment->time;
        }
    }
    return drawing->last;
}

/* A number in a circle, and what it stands for among the notes. */
static void mark(struct drawing *drawing, const struct uvk_moment *decision)
{
    guint index =
        (guint)(decision - (const struct uvk_moment *)(void *)drawing->outcome->moments->data);
    char *name = uvk_moment_source(drawing->program, decision);
    double x = timeline_x(drawing, decision->time);
    double y = drawing->y + LANE / 2;
    char number[12];

    g_ptr_array_add(drawing->notes,
                    g_strdup_printf("%.0f ms  %s: %s",
                                    (double)(decision->time - drawing->outcome->start) / 1000,
                                    name, decision->text));
    g_snprintf(number, sizeof number, "%u", drawing->notes->len);
    canvas_circle(drawing->canvas, x, y, 9, TONE_PAPER, TONE_INK);
    canvas_text(drawing->canvas, x, y + 4.5, SMALL, TONE_INK, ANCHOR_MIDDLE, true, number);
    drawing->marked[index] = true;
    g_free(name);
}

/* A key of the other half, while the cable between the two is not in. */
static bool is_unheard(const struct drawing *drawing, const struct uvk_moment *touch)
{
    const struct uvk_board *board = drawing->program->board;
    unsigned main_half = uvk_main_half(board);
    bool heard = true;

    for (guint i = 0; i < moment_count(drawing); i++) {
        const struct uvk_moment *moment = moment_at(drawing, i);
        if (moment->kind == UVK_MOMENT_CABLE && moment->time <= touch->time) {
            heard = moment->cable == UVK_CABLE_IN;
        }
    }
    return !heard && board->keys[touch->source].half != main_half;
}

/* Hatched while nobody knows what the key does, or others before it have to be decided first;
 * filled from then on; empty where the keyboard does not hear of it. */
static void draw_press(struct drawing *drawing, guint index)
{
    const struct uvk_moment *touch = moment_at(drawing, index);
    const struct uvk_moment *decision = decision_of(drawing, touch->source, touch->time);
    uint64_t up = released_at(drawing, touch->source, index);
    uint64_t known = decision != NULL           ? MIN(decision->time, up)
                     : knows_decisions(drawing) ? up /* a tap that was counted */
                                                : touch->time;
    bool reasoned = decision != NULL && decision->source < UVK_FIRST_COMBO &&
                    decision->decision.reason != UVK_WHY_PLAIN;

    if (decision == NULL && is_unheard(drawing, touch)) {
        bar(drawing, touch->time, up, TONE_PAPER, false);
    } else if (known <= touch->time + AT_ONCE) {
        bar(drawing, touch->time, up, TONE_INK, false);
    } else {
        bar(drawing, touch->time, up, TONE_PAPER, true);
        if (up > known) {
            bar(drawing, known, up, TONE_INK, false);
        }
    }
    if (reasoned) {
        mark(drawing, decision);
    }
}

/* One detent of a knob. */
static void draw_turn(struct drawing *drawing, const struct uvk_moment *touch)
{
    double x = timeline_x(drawing, touch->time);

    canvas_line(drawing->canvas, x, drawing->y + (LANE - BAR) / 2, x,
                drawing->y + (LANE + BAR) / 2, TONE_INK, 3, false);
}

static void draw_finger(struct drawing *drawing, unsigned source)
{
    char *name = uvk_source_text(drawing->program, source);

    timeline_label(drawing, name, false);
    for (guint i = 0; i < moment_count(drawing); i++) {
        const struct uvk_moment *moment = moment_at(drawing, i);
        if (moment->kind != UVK_MOMENT_TOUCH || moment->source != source || !moment->down) {
            continue;
        }
        if (source < drawing->program->board->key_count) {
            draw_press(drawing, i);
        } else {
            draw_turn(drawing, moment);
        }
    }
    drawing->y += LANE;
    g_free(name);
}

/* Decisions of combos and of taps that were counted or added belong to no single press. */
static void draw_other_decisions(struct drawing *drawing)
{
    bool labelled = false;

    for (guint i = 0; i < moment_count(drawing); i++) {
        const struct uvk_moment *moment = moment_at(drawing, i);
        if (moment->kind != UVK_MOMENT_DECISION || drawing->marked[i] ||
            moment->decision.reason == UVK_WHY_PLAIN) {
            continue;
        }
        if (!labelled) {
            timeline_label(drawing, "together, counted", false);
            labelled = true;
        }
        mark(drawing, moment);
    }
    drawing->y += labelled ? LANE : 0;
}

/* Where it is out, or crosses the wrong way. */
static void draw_cable(struct drawing *drawing)
{
    bool labelled = false;

    for (guint i = 0; i < moment_count(drawing); i++) {
        const struct uvk_moment *moment = moment_at(drawing, i);
        uint64_t until = drawing->last;
        if (moment->kind != UVK_MOMENT_CABLE || moment->cable == UVK_CABLE_IN) {
            continue;
        }
        for (guint j = i + 1; j < moment_count(drawing); j++) {
            if (moment_at(drawing, j)->kind == UVK_MOMENT_CABLE) {
                until = moment_at(drawing, j)->time;
                break;
            }
        }
        if (!labelled) {
            timeline_label(drawing, "cable out", false);
            labelled = true;
        }
        bar(drawing, moment->time, until, TONE_PALE, false);
    }
    drawing->y += labelled ? LANE : 0;
}

static void draw_fingers(struct drawing *drawing)
{
    const unsigned sources = uvk_board_cells(drawing->program->board);
    bool *seen = g_new0(bool, sources);

    canvas_text(drawing->canvas, LEFT, drawing->y + 14, SMALL, TONE_MIDDLE, ANCHOR_LEFT, false,
                "fingers (hatched: undecided, or waiting for one that is)");
    drawing->y += 20;
    for (guint i = 0; i < moment_count(drawing); i++) {
        const struct uvk_moment *moment = moment_at(drawing, i);
        if (moment->kind == UVK_MOMENT_TOUCH && !seen[moment->source]) {
            seen[moment->source] = true;
            draw_finger(drawing, moment->source);
        }
    }
    draw_other_decisions(drawing);
    g_free(seen);
}

/* ---- the host ----------------------------------------------------------------------- */

static bool same_key(const struct uvk_notice *a, const struct uvk_notice *b)
{
    return a->page == b->page && a->usage == b->usage;
}

static bool is_key(const struct uvk_moment *moment, enum uvk_notice_kind kind)
{
    return moment->kind == UVK_MOMENT_NOTICE && moment->notice.kind == kind;
}

/* Is the moment at INDEX the first press, or movement, of its key? */
static bool is_first(const struct drawing *drawing, guint index)
{
    const struct uvk_moment *moment = moment_at(drawing, index);

    if (!is_key(moment, UVK_NOTICE_PRESS) && !is_key(moment, UVK_NOTICE_MOVE)) {
        return false;
    }
    for (guint i = 0; i < index; i++) {
        const struct uvk_moment *before = moment_at(drawing, i);
        if (is_key(before, moment->notice.kind) && same_key(&before->notice, &moment->notice)) {
            return false;
        }
    }
    return true;
}

static void draw_held(struct drawing *drawing, guint index)
{
    const struct uvk_notice *notice = &moment_at(drawing, index)->notice;
    uint64_t up = drawing->last;

    for (guint i = index; i < moment_count(drawing); i++) {
        const struct uvk_moment *moment = moment_at(drawing, i);
        if (is_key(moment, UVK_NOTICE_RELEASE) && same_key(&moment->notice, notice)) {
            up = moment->time;
            break;
        }
    }
    bar(drawing, notice->time, up, TONE_PALE, false);
}

static void draw_moves(struct drawing *drawing, guint index)
{
    const struct uvk_notice *notice = &moment_at(drawing, index)->notice;
    double x = timeline_x(drawing, notice->time);

    canvas_line(drawing->canvas, x, drawing->y + (LANE - BAR) / 2 + 4, x,
                drawing->y + (LANE + BAR) / 2 - 4, TONE_INK, 1, false);
}

static void draw_host_lane(struct drawing *drawing, guint first)
{
    const struct uvk_notice *notice = &moment_at(drawing, first)->notice;
    char *name = uvk_notice_text(notice);

    timeline_label(drawing, name, false);
    for (guint i = first; i < moment_count(drawing); i++) {
        const struct uvk_moment *moment = moment_at(drawing, i);
        if (moment->kind != UVK_MOMENT_NOTICE || !same_key(&moment->notice, notice)) {
            continue;
        }
        if (moment->notice.kind == UVK_NOTICE_PRESS) {
            draw_held(drawing, i);
        } else if (moment->notice.kind == UVK_NOTICE_MOVE) {
            draw_moves(drawing, i);
        }
    }
    drawing->y += LANE;
    g_free(name);
}

/* Of a keyboard that was only watched, nothing of the host is known. */
static void draw_host(struct drawing *drawing)
{
    bool any = false;

    for (guint i = 0; i < moment_count(drawing); i++) {
        if (!is_first(drawing, i)) {
            continue;
        }
        if (!any) {
            canvas_text(drawing->canvas, LEFT, drawing->y + 14, SMALL, TONE_MIDDLE, ANCHOR_LEFT,
                        false, "what the host is told is down");
            drawing->y += 20;
            any = true;
        }
        draw_host_lane(drawing, i);
    }
}

/* What a character looks like that has no looks. */
static const char *visible(const char *text)
{
    return strcmp(text, " ") == 0    ? "\u2423"
           : strcmp(text, "\n") == 0 ? "\u23CE"
           : strcmp(text, "\t") == 0 ? "\u21E5"
                                     : text;
}

/* Characters stand at their times; where two would overlap, the later one goes below. */
static void draw_typed(struct drawing *drawing)
{
    double ends[CHAR_LANES] = {0, 0};
    bool any = false;

    for (guint i = 0; i < moment_count(drawing); i++) {
        const struct uvk_moment *moment = moment_at(drawing, i);
        const char *text;
        unsigned lane;
        double x;
        double width;
        if (!is_key(moment, UVK_NOTICE_TEXT)) {
            continue;
        }
        text = visible(moment->notice.text);
        width = canvas_text_width(LARGE, false, text);
        x = timeline_x(drawing, moment->time);
        lane = x >= ends[0] || ends[0] <= ends[1] ? 0 : 1;
        x = MAX(x, ends[lane]);
        canvas_text(drawing->canvas, x, drawing->y + 24 + 22 * lane, LARGE, TONE_INK,
                    ANCHOR_LEFT, false, text);
        ends[lane] = x + width + 2;
        any = true;
    }
    if (any) {
        timeline_label(drawing, "text", true);
        drawing->y += ends[1] > 0 ? LANE + 22 : LANE;
    }
}

/* ---- the frame ---------------------------------------------------------------------- */

/* 1, 2 or 5 times a power of ten, for about a dozen marks. */
static uint64_t axis_step(uint64_t span)
{
    uint64_t step = 1000;

    for (;;) {
        static const unsigned factors[] = {1, 2, 5};
        for (size_t i = 0; i < G_N_ELEMENTS(factors); i++) {
            if (span / (step * factors[i]) <= 14) {
                return step * factors[i];
            }
        }
        step *= 10;
    }
}

static void draw_axis(struct drawing *drawing)
{
    uint64_t start = drawing->outcome->start;
    uint64_t step = axis_step(drawing->last - drawing->first);
    double bottom = drawing->y + 8;

    canvas_line(drawing->canvas, LEFT, bottom, WIDTH - RIGHT, bottom, TONE_INK, 1.5, false);
    for (uint64_t time = 0; start + time <= drawing->last; time += step) {
        char label[32];
        double x;
        if (start + time < drawing->first) {
            continue;
        }
        x = timeline_x(drawing, start + time);
        g_snprintf(label, sizeof label, "%u", (unsigned)(time / 1000));
        canvas_line(drawing->canvas, x, drawing->top, x, bottom, TONE_PALE, 1, false);
        canvas_line(drawing->canvas, x, bottom, x, bottom + 5, TONE_INK, 1.5, false);
        canvas_text(drawing->canvas, x, bottom + 19, SMALL, TONE_INK, ANCHOR_MIDDLE, false,
                    label);
    }
    canvas_text(drawing->canvas, WIDTH - RIGHT, bottom + 36, SMALL, TONE_MIDDLE, ANCHOR_RIGHT,
                false, "milliseconds");
    drawing->y = bottom + 44;
}

static void draw_notes(struct drawing *drawing)
{
    for (guint i = 0; i < drawing->notes->len; i++) {
        char number[12];
        g_snprintf(number, sizeof number, "%u", i + 1);
        canvas_circle(drawing->canvas, LEFT + 9, drawing->y + 9, 9, TONE_PAPER, TONE_INK);
        canvas_text(drawing->canvas, LEFT + 9, drawing->y + 13.5, SMALL, TONE_INK,
                    ANCHOR_MIDDLE, true, number);
        canvas_text(drawing->canvas, LEFT + 28, drawing->y + 14, NORMAL, TONE_INK, ANCHOR_LEFT,
                    false, g_ptr_array_index(drawing->notes, i));
        drawing->y += 24;
    }
}

static void draw_head(struct drawing *drawing)
{
    const struct uvk_outcome *outcome = drawing->outcome;

    canvas_text(drawing->canvas, 24, 36, LARGE, TONE_INK, ANCHOR_LEFT, true,
                outcome->play->name);
    drawing->y = 48;
    if (outcome->failed != NULL) {
        char *expected = g_strdup_printf("failed: expected %s", outcome->expected);
        char *got = g_strdup_printf("got %s", outcome->got);
        canvas_text(drawing->canvas, 24, drawing->y + 14, NORMAL, TONE_ACCENT, ANCHOR_LEFT,
                    true, expected);
        canvas_text(drawing->canvas, 24 + canvas_text_width(NORMAL, true, "failed: "),
                    drawing->y + 34, NORMAL, TONE_ACCENT, ANCHOR_LEFT, true, got);
        drawing->y += 44;
        g_free(expected);
        g_free(got);
    }
    drawing->top = drawing->y + 4;
    drawing->y += 8;
}

static void draw_lanes(struct drawing *drawing)
{
    g_ptr_array_set_size(drawing->notes, 0);
    memset(drawing->marked, 0, moment_count(drawing) * sizeof *drawing->marked);
    draw_head(drawing);
    draw_cable(drawing);
    draw_fingers(drawing);
    draw_host(drawing);
    draw_typed(drawing);
    timeline_lights(drawing);
}

bool uvk_timeline_draw(const struct uvk_program *program, const struct uvk_outcome *outcome,
                       const char *path, GError **error)
{
    struct drawing drawing = {.program = program,
                              .outcome = outcome,
                              .notes = g_ptr_array_new_with_free_func(g_free),
                              .marked = g_new0(bool, outcome->moments->len + 1)};
    double bottom;
    bool good;

    find_span(&drawing);
    drawing.canvas = canvas_new(); /* once for the height: the axis' lines lie under the rest */
    draw_lanes(&drawing);
    canvas_free(drawing.canvas);
    drawing.canvas = canvas_new();
    draw_axis(&drawing);
    bottom = drawing.y;
    draw_lanes(&drawing);
    drawing.y = bottom;
    draw_notes(&drawing);
    good = canvas_write(drawing.canvas, WIDTH, drawing.y + 16, false, path, error);
    canvas_free(drawing.canvas);
    g_ptr_array_free(drawing.notes, TRUE);
    g_free(drawing.marked);
    return good;
}
