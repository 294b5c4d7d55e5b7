-- client.lua - neovim's own client meets `uvrek editor`, headless:
--   UVREK=... UVREK_FILE=projection-room.uvk nvim -n --headless -u NONE -S client.lua
-- What it sees is printed, a line each; the exit status is 1 if something does not come.
local file = os.getenv("UVREK_FILE")
local attached = false
local messages = {} -- for the person
local told = 0 -- how often the server has said what is wrong

local function say(...)
    io.stdout:write(string.format(...), "\n")
end

local function fail(what)
    say("FAILED: %s", what)
    vim.cmd("cquit 1")
end

local function wait_for(what, condition)
    if not vim.wait(10000, condition, 10) then
        fail(what)
    end
end

local function request(method, params)
    local answers = vim.lsp.buf_request_sync(0, method, params, 10000)
    for _, answer in pairs(answers or {}) do
        if answer.error then
            return nil, answer.error.message
        end
        return answer.result
    end
    fail(method .. " was not answered")
end

local function at(pattern, off)
    local line = vim.fn.search(pattern, "cw")
    if line == 0 then
        fail("no " .. pattern)
    end
    local column = vim.fn.col(".") - 1 + (off or 0)
    vim.api.nvim_win_set_cursor(0, { line, column })
    return vim.lsp.util.make_position_params(0, "utf-16")
end

local function diagnostics()
    return vim.diagnostic.get(0)
end

vim.cmd("edit " .. file)
vim.lsp.start_client({
    name = "uvrek",
    cmd = { os.getenv("UVREK"), "editor" },
    root_dir = vim.fn.getcwd(),
    on_attach = function() attached = true end,
    handlers = {
        ["textDocument/publishDiagnostics"] = function(...)
            told = told + 1
            vim.lsp.diagnostic.on_publish_diagnostics(...)
        end,
        ["window/showMessage"] = function(_, message)
            messages[#messages + 1] = message.message
        end,
    },
})
vim.lsp.buf_attach_client(0, 1)
wait_for("the server", function() return attached end)

-- a mistake is planted, told, and mended as the server proposes
local start = at([[\<tab\>]])
vim.api.nvim_buf_set_text(0, start.position.line, start.position.character, start.position.line,
    start.position.character + 3, { "tabb" })
wait_for("a mistake", function() return #diagnostics() == 1 end)
local wrong = diagnostics()[1]
say("line %d: %s", wrong.lnum + 1, wrong.message:gsub("\n", "; "))
local params = vim.lsp.util.make_range_params(0, "utf-16")
params.context = { diagnostics = {} }
local action = request("textDocument/codeAction", params)[1]
say("offered: %s", action.title)
vim.lsp.util.apply_workspace_edit(action.edit, "utf-16")
wait_for("no mistake", function() return #diagnostics() == 0 end)
say("mended")

-- what the cell does
local hover = request("textDocument/hover", at([[\<tab\>]]))
say("hover: %s", hover.contents.value:gsub("\n", " "))

-- what could stand here
local offers = request("textDocument/completion", at([[\<tab\>]], 2))
local found = {}
for _, item in ipairs(offers.items) do
    found[item.label] = true
end
say("%d offers, with shutter-left: %s, with a word of plays: %s", #offers.items,
    tostring(found["shutter-left"] ~= nil), tostring(found["settle"] ~= nil))

-- another name, everywhere
params = at([[layer numbers]], 7)
params.newName = "cues"
vim.lsp.util.apply_workspace_edit(request("textDocument/rename", params), "utf-16")
vim.cmd("silent wall") -- the board's file has a lamp of that name
told = 0
wait_for("what is wrong after that", function() return told > 0 and #diagnostics() == 0 end)
say("renamed: %d lines with cues", vim.fn.searchcount({ pattern = [[\<cues\>]] }).total)
local _, why = request("textDocument/rename", vim.tbl_extend("force", at([[layer cues]], 7), { newName = "enter" }))
say("refused: %s", why)

-- lined up
vim.api.nvim_buf_set_lines(0, vim.fn.search([[\.  4  5]], "cw") - 1, vim.fn.search([[\.  4  5]], "cw"), true,
    { "    . 4 5 6 backspace" })
local edits = request("textDocument/formatting", {
    textDocument = vim.lsp.util.make_text_document_params(),
    options = { tabSize = 4, insertSpaces = true },
})
vim.lsp.util.apply_text_edits(edits, 0, "utf-16")
say("lined up: %s", vim.fn.getline(vim.fn.search("backspace", "cw")))

-- and a range of it alone
local line = vim.fn.search("backspace", "cw")
vim.api.nvim_buf_set_lines(0, line - 1, line, true, { "    . 4 5 6    backspace" })
edits = request("textDocument/rangeFormatting", {
    textDocument = vim.lsp.util.make_text_document_params(),
    range = { start = { line = line, character = 0 }, ["end"] = { line = line + 1, character = 0 } },
    options = { tabSize = 4, insertSpaces = true },
})
say("the line below that: %d changes", #edits)
edits = request("textDocument/rangeFormatting", {
    textDocument = vim.lsp.util.make_text_document_params(),
    range = { start = { line = line - 1, character = 0 }, ["end"] = { line = line - 1, character = 1 } },
    options = { tabSize = 4, insertSpaces = true },
})
vim.lsp.util.apply_text_edits(edits, 0, "utf-16")
say("that line: %d change", #edits)

-- a doubt is mended
vim.api.nvim_buf_set_lines(0, 6, 6, true, { "  let never = ctrl+z" })
wait_for("a doubt", function() return #diagnostics() == 1 end)
vim.api.nvim_win_set_cursor(0, { 7, 7 })
params = vim.lsp.util.make_range_params(0, "utf-16")
params.context = { diagnostics = {} }
action = request("textDocument/codeAction", params)[1]
say("offered: %s", action.title)
vim.lsp.util.apply_workspace_edit(action.edit, "utf-16")
wait_for("no doubt", function() return #diagnostics() == 0 end)

-- what shows through, and colours
local whole = {
    textDocument = vim.lsp.util.make_text_document_params(),
    range = { start = { line = 0, character = 0 }, ["end"] = { line = 999, character = 0 } },
}
local hints = request("textDocument/inlayHint", whole)
say("%d hints; the first: %s, %s", #hints, hints[1].label, hints[1].tooltip)
local tokens = request("textDocument/semanticTokens/full", { textDocument = whole.textDocument })
say("%d words with a colour", #tokens.data / 5)

-- plays, run where they stand: one of them expects what is not so any more
local lenses = request("textDocument/codeLens", { textDocument = vim.lsp.util.make_text_document_params() })
local shown = request("codeLens/resolve", lenses[1])
say("%d plays; the first: %s", #lenses, shown.command.title)

-- drawn, and a text typed
local arguments = { shown.command.arguments[1], 0 }
local drawn = request("workspace/executeCommand", { command = "uvrek.draw", arguments = arguments })
say("drawn: %s", vim.fn.readfile(vim.uri_to_fname(drawn.uri), "", 1)[1]:sub(1, 4))
arguments[2] = "1234"
local typed = request("workspace/executeCommand", { command = "uvrek.type", arguments = arguments })
say("typed: %s", vim.fn.readfile(vim.uri_to_fname(typed.uri), "", 1)[1])
say("told of both: %s", tostring(messages[1] == drawn.uri and messages[2] == typed.uri))
vim.cmd("quitall!")
