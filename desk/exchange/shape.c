/* shape.c - JSON against its shape, and the shape as a JSON Schema. */
#include "shape.h"

#include <math.h>
#include <stdarg.h>
#include <string.h>

char *pointer_to(const char *pointer, const char *name)
{
    GString *out = g_string_new(pointer);

    g_string_append_c(out, '/');
    for (; *name != '\0'; name++) {
        if (*name == '~' || *name == '/') {
            g_string_append(out, *name == '~' ? "~0" : "~1");
        } else {
            g_string_append_c(out, *name);
        }
    }
    return g_string_free(out, FALSE);
}

void add_problem(GPtrArray *problems, const char *pointer, const char *format, ...)
{
    struct uvk_exchange_problem *problem;
    va_list arguments;

    if (problems->len > UVK_ERRORS_MAX) {
        return;
    }
    problem = g_new0(struct uvk_exchange_problem, 1);
    if (problems->len == UVK_ERRORS_MAX) {
        problem->pointer = g_strdup("");
        problem->text =
            g_strdup_printf("and more: %u mistakes are told in one run", UVK_ERRORS_MAX);
        g_ptr_array_add(problems, problem);
        return;
    }

    va_start(arguments, format);
    problem->pointer = g_strdup(pointer);
    problem->text = g_strdup_vprintf(format, arguments);
    va_end(arguments);
    g_ptr_array_add(problems, problem);
}

/* ---- checking ------------------------------------------------------------------------ */

static void wanted(GPtrArray *problems, const char *pointer, const struct shape *shape)
{
    add_problem(problems, pointer, "expected %s", shape->what);
}

static const char *member_name(size_t index, const void *data)
{
    return ((const struct member *)data)[index].name;
}

static const struct member *member_named(const struct member *members, const char *name)
{
    for (; members->name != NULL; members++) {
        if (strcmp(members->name, name) == 0) {
            return members;
        }
    }
    return NULL;
}

static void unknown_member(const struct shape *shape, const char *name, const char *pointer,
                           GPtrArray *problems)
{
    size_t count = 0;
    const char *near;

    while (shape->members[count].name != NULL) {
        count++;
    }
    near = uvk_nearest(name, count, member_name, shape->members);
    if (near != NULL) {
        add_problem(problems, pointer, "no such member; did you mean '%s'?", near);
    } else {
        add_problem(problems, pointer, "no such member");
    }
}

static void check_object(const struct shape *shape, const json_t *json, const char *pointer,
                         GPtrArray *problems)
{
    const char *name;
    json_t *value;

    json_object_foreach((json_t *)json, name, value)
    {
        const struct member *member = member_named(shape->members, name);
        char *at = pointer_to(pointer, name);
        if (member != NULL) {
            shape_check(member->shape, value, at, problems);
        } else {
            unknown_member(shape, name, at, problems);
        }
        g_free(at);
    }
    for (const struct member *member = shape->members; member->name != NULL; member++) {
        if (member->needed && json_object_get(json, member->name) == NULL) {
            add_problem(problems, pointer, "the member '%s' is missing", member->name);
        }
    }
}

static void check_map(const struct shape *shape, const json_t *json, const char *pointer,
                      GPtrArray *problems)
{
    const char *name;
    json_t *value;

    json_object_foreach((json_t *)json, name, value)
    {
        char *at = pointer_to(pointer, name);
        if (!g_regex_match_simple(shape->pattern, name, G_REGEX_DOLLAR_ENDONLY, 0)) {
            add_problem(problems, at, "a name that cannot be here");
        } else {
            shape_check(shape->of, value, at, problems);
        }
        g_free(at);
    }
}

static void check_list(const struct shape *shape, const json_t *json, const char *pointer,
                       GPtrArray *problems)
{
    size_t count = json_array_size(json);

    if ((double)count < shape->least || (double)count > shape->most) {
        add_problem(problems, pointer, "%zu of %s, expected %g to %g", count, shape->what,
                    shape->least, shape->most);
        return;
    }
    for (size_t i = 0; i < count; i++) {
        char *at = g_strdup_printf("%s/%zu", pointer, i);
        shape_check(shape->of, json_array_get(json, i), at, problems);
        g_free(at);
    }
}

static void check_word(const struct shape *shape, const char *word, const char *pointer,
                       GPtrArray *problems)
{
    GString *all = g_string_new(NULL);

    for (const char *const *known = shape->words; *known != NULL; known++) {
        if (strcmp(*known, word) == 0) {
            g_string_free(all, TRUE);
            return;
        }
        g_string_append_printf(all, "%s%s", all->len > 0 ? ", " : "", *known);
    }
    add_problem(problems, pointer, "'%s' is none of: %s", word, all->str);
    g_string_free(all, TRUE);
}

static void check_number(const struct shape *shape, const json_t *json, const char *pointer,
                         GPtrArray *problems)
{
    double value = json_number_value(json);

    if (!(value >= shape->least && value <= shape->most)) {
        add_problem(problems, pointer, "%.12g is out of range, from %.12g to %.12g", value,
                    shape->least, shape->most);
    }
}

static void check_text(const struct shape *shape, const json_t *json, const char *pointer,
                       GPtrArray *problems)
{
    if (shape->pattern != NULL && !g_regex_match_simple(shape->pattern, json_string_value(json),
                                                        G_REGEX_DOLLAR_ENDONLY, 0)) {
        wanted(problems, pointer, shape);
    }
}

static bool is_of_kind(enum shape_kind kind, const json_t *json)
{
    switch (kind) {
    case SHAPE_OBJECT:
    case SHAPE_MAP:
        return json_is_object(json);
    case SHAPE_LIST:
        return json_is_array(json);
    case SHAPE_NUMBER:
        return json_is_number(json);
    case SHAPE_WHOLE:
        return json_is_number(json) &&
               json_number_value(json) == floor(json_number_value(json));
    case SHAPE_FLAG:
        return json_is_boolean(json);
    case SHAPE_EITHER:
        return json_is_string(json) || json_is_object(json);
    default:
        return json_is_string(json);
    }
}

void shape_check(const struct shape *shape, const json_t *json, const char *pointer,
                 GPtrArray *problems)
{
    if (!is_of_kind(shape->kind, json)) {
        wanted(problems, pointer, shape);
        return;
    }
    switch (shape->kind) {
    case SHAPE_OBJECT:
        check_object(shape, json, pointer, problems);
        break;
    case SHAPE_MAP:
        check_map(shape, json, pointer, problems);
        break;
    case SHAPE_LIST:
        check_list(shape, json, pointer, problems);
        break;
    case SHAPE_TEXT:
        check_text(shape, json, pointer, problems);
        break;
    case SHAPE_WORD:
        check_word(shape, json_string_value(json), pointer, problems);
        break;
    case SHAPE_NUMBER:
    case SHAPE_WHOLE:
        check_number(shape, json, pointer, problems);
        break;
    case SHAPE_FLAG:
        break;
    case SHAPE_EITHER:
        shape_check(json_is_string(json) ? shape->of : shape->other, json, pointer, problems);
        break;
    }
}

/* ---- the schema ---------------------------------------------------------------------- */

static json_t *schema_of(const struct shape *shape, json_t *definitions);

static void object_schema(const struct shape *shape, json_t *schema, json_t *definitions)
{
    json_t *properties = json_object();
    json_t *needed = json_array();

    for (const struct member *member = shape->members; member->name != NULL; member++) {
        json_t *value = schema_of(member->shape, definitions);
        if (member->what != NULL) {
            json_object_set_new(value, "description", json_string(member->what));
        }
        json_object_set_new(properties, member->name, value);
        if (member->needed) {
            json_array_append_new(needed, json_string(member->name));
        }
    }
    json_object_set_new(schema, "properties", properties);
    json_object_set_new(schema, "required", needed);
    json_object_set_new(schema, "additionalProperties", json_false());
}

/* A number as JSON, without a fraction where there is none. */
static json_t *bound(double value)
{
    return value == (double)(json_int_t)value ? json_integer((json_int_t)value)
                                              : json_real(value);
}

static void fill_schema(const struct shape *shape, json_t *schema, json_t *definitions)
{
    json_t *list;

    switch (shape->kind) {
    case SHAPE_OBJECT:
        object_schema(shape, schema, definitions);
        break;
    case SHAPE_MAP:
        list = json_object();
        json_object_set_new(list, "pattern", json_string(shape->pattern));
        json_object_set_new(schema, "propertyNames", list);
        json_object_set_new(schema, "additionalProperties", schema_of(shape->of, definitions));
        break;
    case SHAPE_LIST:
        json_object_set_new(schema, "items", schema_of(shape->of, definitions));
        json_object_set_new(schema, "minItems", bound(shape->least));
        json_object_set_new(schema, "maxItems", bound(shape->most));
        break;
    case SHAPE_TEXT:
        if (shape->pattern != NULL) {
            json_object_set_new(schema, "pattern", json_string(shape->pattern));
        }
        break;
    case SHAPE_WORD:
        list = json_array();
        for (const char *const *word = shape->words; *word != NULL; word++) {
            json_array_append_new(list, json_string(*word));
        }
        json_object_set_new(schema, "enum", list);
        break;
    case SHAPE_NUMBER:
    case SHAPE_WHOLE:
        json_object_set_new(schema, "minimum", bound(shape->least));
        json_object_set_new(schema, "maximum", bound(shape->most));
        break;
    case SHAPE_FLAG:
        break;
    case SHAPE_EITHER:
        list = json_array();
        json_array_append_new(list, schema_of(shape->of, definitions));
        json_array_append_new(list, schema_of(shape->other, definitions));
        json_object_set_new(schema, "anyOf", list);
        break;
    }
}

/* The schema of a shape where it is used: a reference, if it has a definition. */
static json_t *schema_of(const struct shape *shape, json_t *definitions)
{
    static const char *const types[] = {
        [SHAPE_OBJECT] = "object", [SHAPE_MAP] = "object",  [SHAPE_LIST] = "array",
        [SHAPE_TEXT] = "string",   [SHAPE_WORD] = "string", [SHAPE_NUMBER] = "number",
        [SHAPE_WHOLE] = "integer", [SHAPE_FLAG] = "boolean"};
    json_t *schema = json_object();
    json_t *reference;

    if (shape->kind != SHAPE_EITHER) {
        json_object_set_new(schema, "type", json_string(types[shape->kind]));
    }
    json_object_set_new(schema, "description", json_string(shape->what));
    if (shape->definition == NULL) {
        fill_schema(shape, schema, definitions);
        return schema;
    }
    if (json_object_get(definitions, shape->definition) == NULL) {
        json_object_set(definitions, shape->definition, schema);
        fill_schema(shape, schema, definitions);
    }
    json_decref(schema);
    reference = json_object();
    json_object_set_new(reference, "$ref", json_sprintf("#/$defs/%s", shape->definition));
    return reference;
}

json_t *shape_schema(const struct shape *shape)
{
    json_t *definitions = json_object();
    json_t *whole = json_object();
    json_t *schema;

    json_object_set_new(whole, "$schema",
                        json_string("https://json-schema.org/draft/2020-12/schema"));
    schema = schema_of(shape, definitions);
    json_object_update(whole, schema);
    json_decref(schema);
    json_object_set_new(whole, "$defs", definitions);
    return whole;
}
