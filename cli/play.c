/* play.c - `uvrek play`: run the expectations, in the simulator or on the chip's machine code.
 */
#include "played.h"
#include "replay.h"
#include "typed.h"

#include "uvrek/electric.h"
#include "uvrek/firmware.h"
#include "uvrek/sheet.h"

#include <stdio.h>
#include <string.h>

#define FILM_US 10000u /* from one look at the lights to the next */

struct wishes {
    gboolean as_json, as_tap, on_chip, why;
    gint seed, wires;
    char *only, *picture, *film, *type, *replay;
    char *tempo; /* NULL: each */
};

struct playing {
    const struct wishes *wishes;
    struct uvk_program *program;
    struct uvk_rig_options rig;
    uint8_t *image;
    uint16_t image_size;
    struct uvk_firmware *firmware; /* NULL: in the simulator */
    struct played played;
};

/* Each play has a keyboard of its own, fresh from the box. */
static struct uvk_rig *new_rig(const struct playing *playing, GError **error)
{
    const struct uvk_firmware *firmware = playing->firmware;

    return firmware != NULL ? uvk_rig_chip(playing->program, firmware->code, firmware->size,
                                           firmware->elf, &playing->rig, error)
                            : uvk_rig_native(playing->program, playing->image,
                                             playing->image_size, &playing->rig, error);
}

static bool is_wanted(const struct playing *playing, const struct uvk_play *play)
{
    const char *only = playing->wishes->only;

    return only == NULL || strstr(play->name, only) != NULL;
}

static unsigned count_wanted(const struct playing *playing)
{
    unsigned count = 0;

    for (const struct uvk_play *play = playing->program->plays; play != NULL;
         play = play->next) {
        count += is_wanted(playing, play);
    }
    return count;
}

static bool play_one(struct playing *playing, const struct uvk_play *play, GError **error)
{
    struct played *played = &playing->played;
    struct uvk_outcome outcome = {.play = play};
    struct uvk_rig *rig = new_rig(playing, error);
    int result = rig != NULL ? uvk_play_run(playing->program, rig, play, &outcome, error) : -1;

    uvk_rig_free(rig);
    if (result >= 0) {
        played->count++;
        played->failed += result == 0;
        played->form->play(played, &outcome);
        if (playing->wishes->picture != NULL &&
            !uvk_timeline_draw(playing->program, &outcome, playing->wishes->picture, error)) {
            result = -1;
        }
        if (result >= 0 && playing->wishes->film != NULL &&
            !uvk_film_draw(playing->program, &outcome, playing->wishes->film, error)) {
            result = -1;
        }
    }
    uvk_outcome_clear(&outcome);
    return result >= 0;
}

static bool play_all(struct playing *playing, GError **error)
{
    struct played *played = &playing->played;
    bool going = true;

    played->expected = count_wanted(playing);
    if (playing->wishes->only != NULL && played->expected == 0) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "no play has '%s' in its name",
                    playing->wishes->only);
        return false;
    }
    if ((playing->wishes->picture != NULL || playing->wishes->film != NULL) &&
        played->expected != 1) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "a picture shows one play; --only WORDS chooses it (%u plays now)",
                    played->expected);
        return false;
    }
    played->form->begin(played);
    for (const struct uvk_play *play = playing->program->plays; play != NULL && going;
         play = play->next) {
        going = !is_wanted(playing, play) || play_one(playing, play, error);
    }
    if (going) {
        played->form->end(played);
    }
    return going;
}

static struct uvk_rig *rig_for_typing(void *data, GError **error)
{
    return new_rig(data, error);
}

static bool type(struct playing *playing, GError **error)
{
    const struct wishes *wishes = playing->wishes;
    const struct typing_request request = {
        playing->program,
        wishes->type,
        wishes->tempo != NULL ? uvk_tempo_named(wishes->tempo) : NULL,
        (uint32_t)wishes->seed,
        wishes->on_chip,
        rig_for_typing,
        playing,
        stdout};

    return type_text(&request, playing->played.json, &playing->played.failed, error);
}

static bool again(struct playing *playing, GError **error)
{
    struct uvk_image image = {0};
    struct uvk_rig *rig = new_rig(playing, error);
    const struct replay wishes = {.program = playing->program,
                                  .path = playing->wishes->replay,
                                  .image = playing->image != NULL ? &image : NULL,
                                  .rig = rig,
                                  .picture = playing->wishes->picture,
                                  .why = playing->wishes->why};
    bool good =
        rig != NULL && (playing->image == NULL ||
                        uvk_image_open(&image, playing->image, playing->image_size) == UVK_OK);

    good = good && replay(&wishes, playing->played.json, error);
    if (good && playing->played.json != NULL) {
        print_json(playing->played.json);
    }
    uvk_rig_free(rig);
    return good;
}

/* What the rigs run: the image, or firmware made of it. */
static bool prepare(struct playing *playing, GError **error)
{
    struct uvk_build_options wishes = {.folder = NULL};

    if (playing->wishes->on_chip) {
        playing->firmware = uvk_build(playing->program, &wishes, error);
        playing->played.chip = playing->program->board->chip->name;
        return playing->firmware != NULL;
    }
    playing->image = uvk_lower(playing->program, &playing->image_size);
    if (playing->image == NULL) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_WELL, "the keymap is too large");
    }
    return playing->image != NULL;
}

static int play(const char *path, const struct wishes *wishes)
{
    struct playing playing = {
        .wishes = wishes,
        .rig = {.seed = (uint32_t)wishes->seed,
                .bounce = UVK_BOUNCE_DEFAULT,
                .film = wishes->picture != NULL || wishes->film != NULL ? FILM_US : 0,
                .picofarads = (unsigned)wishes->wires}};
    GError *error = NULL;
    int status;

    playing.program = load_program(path, true, &status);
    if (playing.program == NULL) {
        return status;
    }
    playing.played = (struct played){
        .program = playing.program,
        .form = wishes->as_json  ? &played_as_json
                : wishes->as_tap ? &played_as_tap
                                 : &played_for_people,
        .json = wishes->as_json ? json_object() : NULL,
        .why = wishes->why,
    };
    if (!prepare(&playing, &error) ||
        !(wishes->type != NULL     ? type(&playing, &error)
          : wishes->replay != NULL ? again(&playing, &error)
                                   : play_all(&playing, &error))) {
        status = print_problem(error);
    } else {
        status = playing.played.failed > 0 ? STATUS_NOT_WELL : STATUS_WELL;
    }
    uvk_firmware_free(playing.firmware);
    g_free(playing.image);
    uvk_program_free(playing.program);
    return status;
}

/* Options that say different things about the same output. */
static bool wishes_agree(const struct wishes *wishes)
{
    const char *wrong =
        wishes->as_json && wishes->as_tap ? "--json and --tap are two forms"
        : wishes->type != NULL && (wishes->only != NULL || wishes->picture != NULL ||
                                   wishes->film != NULL || wishes->as_tap || wishes->why)
            ? "--type runs no plays: only --chip, --tempo, --seed, --wires and --json go with "
              "it"
        : wishes->replay != NULL && (wishes->type != NULL || wishes->only != NULL ||
                                     wishes->as_tap || wishes->film != NULL)
            ? "--replay runs no plays: only --chip, --seed, --wires, --why, --picture and "
              "--json go with it"
        : wishes->tempo != NULL && wishes->type == NULL ? "--tempo is for --type"
        : wishes->tempo != NULL && uvk_tempo_named(wishes->tempo) == NULL
            ? "--tempo is one of: slow, steady, fast, racing"
        : wishes->wires < (gint)UVK_WIRE_LEAST || wishes->wires > (gint)UVK_WIRE_MOST
            ? "--wires is from 20 to 400 picofarads"
            : NULL;

    if (wrong != NULL) {
        complain("%s", wrong);
    }
    return wrong == NULL;
}

static struct wishes wishes = {.seed = 1, .wires = UVK_WIRE_DEFAULT};

static const GOptionEntry options[] = {
    {"chip", 0, 0, G_OPTION_ARG_NONE, &wishes.on_chip,
     "Build the firmware and run its machine code on a simulated chip", NULL},
    {"only", 0, 0, G_OPTION_ARG_STRING, &wishes.only,
     "Only the plays whose names contain WORDS", "WORDS"},
    {"why", 0, 0, G_OPTION_ARG_NONE, &wishes.why,
     "Tell all that happened: fingers, decisions (in the simulator), what the host saw", NULL},
    {"picture", 0, 0, G_OPTION_ARG_FILENAME, &wishes.picture,
     "Draw the play over time, as .svg or .png", "FILE"},
    {"film", 0, 0, G_OPTION_ARG_FILENAME, &wishes.film,
     "Draw the lights of the play at eight moments, as .svg or .png", "FILE"},
    {"type", 0, 0, G_OPTION_ARG_STRING, &wishes.type,
     "Type TEXT as a person would, and tell what came out", "TEXT"},
    {"replay", 0, 0, G_OPTION_ARG_FILENAME, &wishes.replay,
     "Let the fingers of TRACE, from `live watch --json`, do the same, and tell what is "
     "decided "
     "otherwise",
     "TRACE"},
    {"tempo", 0, 0, G_OPTION_ARG_STRING, &wishes.tempo,
     "How fast to type: slow, steady, fast or racing (default: each of them)", "TEMPO"},
    {"seed", 0, 0, G_OPTION_ARG_INT, &wishes.seed,
     "How the contacts bounce, and the fingers of --type vary", "N"},
    {"wires", 0, 0, G_OPTION_ARG_INT, &wishes.wires,
     "The capacitance of each wire in picofarads: 20 short, 400 long (default 100)", "PF"},
    {"json", 0, 0, G_OPTION_ARG_NONE, &wishes.as_json, "Print JSON, for other programs", NULL},
    {"tap", 0, 0, G_OPTION_ARG_NONE, &wishes.as_tap,
     "Print the Test Anything Protocol, for test runners", NULL},
    G_OPTION_ENTRY_NULL};

static int run(int count, char **files)
{
    (void)count;
    return wishes_agree(&wishes) ? play(files[0], &wishes) : STATUS_NOT_DONE;
}

const struct command command_play = {"play",
                                     "FILE",
                                     "Run the plays of a keymap on a simulated keyboard.",
                                     "uvrek play --chip boards/subtitle-desk.uvk",
                                     options,
                                     1,
                                     run};
