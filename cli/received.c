/* received.c - see received.h. */
#include "received.h"

#include "uvrek/hid.h"

#include <stdio.h>

#define PAUSE_US 100000u /* what comes later than that gets a line of its own */

static const struct uvk_notice *notice_at(const GArray *notices, guint index)
{
    return &g_array_index(notices, struct uvk_notice, index);
}

static bool is_modifier(const struct uvk_notice *notice)
{
    return notice->page == UVK_HID_PAGE_KEYBOARD && notice->usage >= UVK_HID_FIRST_MOD;
}

/* Was nothing else pressed while the modifier at INDEX was down? */
static bool is_alone(const GArray *notices, guint index)
{
    const struct uvk_notice *pressed = notice_at(notices, index);

    for (guint i = index + 1; i < notices->len; i++) {
        const struct uvk_notice *notice = notice_at(notices, i);
        if (notice->kind == UVK_NOTICE_RELEASE && notice->page == pressed->page &&
            notice->usage == pressed->usage) {
            return true;
        }
        if (notice->kind == UVK_NOTICE_PRESS && !is_modifier(notice)) {
            return false;
        }
    }
    return true;
}

/* What is new: keys, text, how far pointer and wheels moved. */
struct news {
    GArray *presses; /* of struct uvk_press */
    GString *text;
    struct uvk_movement pointer, wheel;
};

static void note_move(struct news *news, const struct uvk_notice *notice)
{
    if (notice->page == UVK_HID_PAGE_CONSUMER && notice->usage == UVK_HID_AC_PAN) {
        news->wheel.x += notice->by;
    } else if (notice->usage == UVK_HID_WHEEL) {
        news->wheel.y += notice->by;
    } else if (notice->usage == UVK_HID_X) {
        news->pointer.x += notice->by;
    } else {
        news->pointer.y += notice->by;
    }
}

static void note(struct news *news, const GArray *notices, guint index)
{
    const struct uvk_notice *notice = notice_at(notices, index);
    struct uvk_press press = {
        .page = notice->page, .usage = notice->usage, .mods = notice->mods};

    switch (notice->kind) {
    case UVK_NOTICE_PRESS:
        if (!is_modifier(notice) || is_alone(notices, index)) {
            g_array_append_val(news->presses, press);
        }
        break;
    case UVK_NOTICE_TEXT:
        g_string_append(news->text, notice->text);
        break;
    case UVK_NOTICE_MOVE:
        note_move(news, notice);
        break;
    default:
        break;
    }
}

static void print_news(const struct news *news, uint64_t time)
{
    bool moved = news->pointer.x != 0 || news->pointer.y != 0;
    bool turned = news->wheel.x != 0 || news->wheel.y != 0;
    char *keys = uvk_presses_text(news->presses);
    char *text = uvk_string_text(news->text->str);

    if (news->presses->len > 0 || news->text->len > 0 || moved || turned) {
        printf("%7u ms", (unsigned)(time / 1000));
        if (news->presses->len > 0) {
            printf("  keys %s", keys);
        }
        if (news->text->len > 0) {
            printf("  text %s", text);
        }
        if (moved) {
            printf("  pointer %d %d", news->pointer.x, news->pointer.y);
        }
        if (turned) {
            printf("  wheel %d %d", news->wheel.x, news->wheel.y);
        }
        putchar('\n');
    }
    g_free(keys);
    g_free(text);
}

static bool is_new(const struct uvk_notice *notice)
{
    return notice->kind == UVK_NOTICE_PRESS || notice->kind == UVK_NOTICE_TEXT ||
           notice->kind == UVK_NOTICE_MOVE;
}

/* The notices from *SEEN on that belong on one line: up to a pause, such as a macro makes. */
static void print_line(const GArray *notices, guint *seen, GString *text)
{
    struct news news = {.presses = g_array_new(FALSE, TRUE, sizeof(struct uvk_press)),
                        .text = g_string_new(NULL)};
    uint64_t first = 0;
    uint64_t last = 0;

    for (; *seen < notices->len; (*seen)++) {
        const struct uvk_notice *notice = notice_at(notices, *seen);
        if (is_new(notice) && last > 0 && notice->time > last + PAUSE_US) {
            break;
        }
        if (is_new(notice)) {
            first = first > 0 ? first : notice->time;
            last = notice->time;
        }
        note(&news, notices, *seen);
    }
    print_news(&news, first);
    g_string_append(text, news.text->str);
    g_array_free(news.presses, TRUE);
    g_string_free(news.text, TRUE);
}

void print_received(struct uvk_rig *rig, guint *seen, GString *text)
{
    const GArray *notices = uvk_host_notices(uvk_rig_host(rig));

    while (*seen < notices->len) {
        print_line(notices, seen, text);
    }
}
