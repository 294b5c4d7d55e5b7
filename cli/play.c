/* play.c - `uvrek play`: run the expectations, natively or on the chip's machine code. */
#include "cli.h"

#include "uvrek/bench.h"
#include "uvrek/firmware.h"

#include <stdio.h>

struct playing {
    struct uvk_program *program;
    struct uvk_rig_options options;
    uint8_t *image;
    uint16_t image_size;
    struct uvk_firmware *firmware; /* NULL: natively */
    JsonBuilder *json;             /* NULL: for people */
    bool why;                      /* print the decisions of every play */
    unsigned count, failed;
};

/* Each play has a keyboard of its own, fresh from the box. */
static struct uvk_rig *new_rig(const struct playing *playing, GError **error)
{
    const struct uvk_firmware *firmware = playing->firmware;

    return firmware != NULL ? uvk_rig_chip(playing->program, firmware->code, firmware->size,
                                           firmware->elf, &playing->options, error)
                            : uvk_rig_native(playing->program, playing->image,
                                             playing->image_size, &playing->options, error);
}

/* The last decisions before the failure say most. */
#define DECISIONS_SHOWN 8u

static void print_decisions(const GPtrArray *decisions, guint most)
{
    guint first = decisions->len > most ? decisions->len - most : 0;

    if (first > 0) {
        printf("          ... the last %u decisions:\n", most);
    }
    if (first == 0 && decisions->len > 0) {
        puts("          decisions:");
    }
    for (guint i = first; i < decisions->len; i++) {
        printf("          %s\n", (char *)g_ptr_array_index(decisions, i));
    }
}

static void print_outcome(const struct uvk_outcome *outcome, bool why)
{
    const char *green = on_terminal() ? "\033[32m" : "";
    const char *red = on_terminal() ? "\033[1;31m" : "";
    const char *off = on_terminal() ? "\033[0m" : "";
    struct uvk_position position;

    if (outcome->failed == NULL) {
        printf("%swell%s    %s (%u ms)\n", green, off, outcome->play->name,
               (unsigned)(outcome->time / 1000));
        if (why) {
            print_decisions(outcome->decisions, G_MAXUINT);
        }
        return;
    }
    position = uvk_place_position(outcome->failed->place);
    printf("%sfailed%s  %s\n", red, off, outcome->play->name);
    printf("        %s:%u:%u: after %u ms\n", outcome->failed->place.source->path,
           position.line, position.column, (unsigned)(outcome->time / 1000));
    printf("          expected %s\n          got      %s\n", outcome->expected, outcome->got);
    print_decisions(outcome->decisions, why ? G_MAXUINT : DECISIONS_SHOWN);
}

static void outcome_to_json(JsonBuilder *json, const struct uvk_outcome *outcome)
{
    json_builder_begin_object(json);
    json_member(json, "play", outcome->play->name);
    json_flag(json, "well", outcome->failed == NULL);
    json_number(json, "microseconds", (gint64)outcome->time);
    if (outcome->failed != NULL) {
        struct uvk_position position = uvk_place_position(outcome->failed->place);
        json_member(json, "file", outcome->failed->place.source->path);
        json_number(json, "line", position.line);
        json_number(json, "column", position.column);
        json_member(json, "expected", outcome->expected);
        json_member(json, "got", outcome->got);
    }
    json_builder_end_object(json);
}

static bool play_one(struct playing *playing, const struct uvk_play *play, GError **error)
{
    struct uvk_outcome outcome = {.play = play};
    struct uvk_rig *rig = new_rig(playing, error);
    int result = rig != NULL ? uvk_play_run(playing->program, rig, play, &outcome, error) : -1;

    uvk_rig_free(rig);
    if (result >= 0) {
        playing->count++;
        playing->failed += result == 0;
        if (playing->json != NULL) {
            outcome_to_json(playing->json, &outcome);
        } else {
            print_outcome(&outcome, playing->why);
        }
    }
    uvk_outcome_clear(&outcome);
    return result >= 0;
}

static bool play_all(struct playing *playing, GError **error)
{
    bool going = true;

    if (playing->json != NULL) {
        json_builder_begin_object(playing->json);
        json_member(playing->json, "runs-on",
                    playing->firmware != NULL ? playing->program->board->chip->name : "native");
        json_builder_set_member_name(playing->json, "plays");
        json_builder_begin_array(playing->json);
    }
    for (const struct uvk_play *play = playing->program->plays; play != NULL && going;
         play = play->next) {
        going = play_one(playing, play, error);
    }
    if (playing->json != NULL) {
        json_builder_end_array(playing->json);
        json_number(playing->json, "failed", playing->failed);
        json_builder_end_object(playing->json);
        print_json(playing->json);
    } else if (going) {
        printf("%u play%s, %u failed, %s\n", playing->count, playing->count == 1 ? "" : "s",
               playing->failed,
               playing->firmware != NULL ? "machine code on the simulated chip" : "natively");
    }
    return going;
}

/* What the rigs run: the image, or firmware made of it. */
static bool prepare(struct playing *playing, bool on_chip, GError **error)
{
    struct uvk_build_options options = {.folder = NULL};

    if (on_chip) {
        playing->firmware = uvk_build(playing->program, &options, error);
        return playing->firmware != NULL;
    }
    playing->image = uvk_lower(playing->program, &playing->image_size);
    if (playing->image == NULL) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_WELL, "the keymap is too large");
    }
    return playing->image != NULL;
}

static int play(const char *path, bool on_chip, bool as_json, bool why, uint32_t seed)
{
    struct playing playing = {.why = why,
                              .options = {.seed = seed, .bounce = UVK_BOUNCE_DEFAULT}};
    GError *error = NULL;
    int status;

    playing.program = load_program(path, true, &status);
    if (playing.program == NULL) {
        return status;
    }
    playing.json = as_json ? json_builder_new() : NULL;
    if (!prepare(&playing, on_chip, &error) || !play_all(&playing, &error)) {
        status = print_problem(error);
    } else {
        status = playing.failed > 0 ? STATUS_NOT_WELL : STATUS_WELL;
    }
    uvk_firmware_free(playing.firmware);
    g_free(playing.image);
    uvk_program_free(playing.program);
    return status;
}

static int run(int argc, char **argv)
{
    gboolean as_json = FALSE;
    gboolean on_chip = FALSE;
    gboolean why = FALSE;
    gint seed = 1;
    const GOptionEntry entries[] = {
        {"chip", 0, 0, G_OPTION_ARG_NONE, &on_chip,
         "Build the firmware and run its machine code on a simulated chip", NULL},
        {"why", 0, 0, G_OPTION_ARG_NONE, &why,
         "Show every decision of every play (natively only)", NULL},
        {"seed", 0, 0, G_OPTION_ARG_INT, &seed, "How the contacts bounce", "N"},
        {"json", 0, 0, G_OPTION_ARG_NONE, &as_json, "Print JSON, for other programs", NULL},
        G_OPTION_ENTRY_NULL};
    const char *file;
    int status;

    if (!parse_options(&command_play, entries, &argc, &argv, &status)) {
        return status;
    }
    file = only_file(&command_play, argc, argv);
    return file != NULL ? play(file, on_chip, as_json, why, (uint32_t)seed) : STATUS_NOT_DONE;
}

const struct command command_play = {"play", "FILE",
                                     "Run the plays of a keymap on a simulated keyboard.",
                                     "uvrek play --chip boards/subtitle-desk.uvk", run};
