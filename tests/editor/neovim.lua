-- Drives the editor: opens a file, waits for marks, fixes one, all, and on save. Writes what it saw.
-- Reads the file to open and the folder for its results from the environment.

local file, results = vim.env.YTR_FILE, vim.env.YTR_RESULTS

local function fail(message)
  vim.fn.writefile({ message }, results .. "/failed")
  vim.cmd("cquit!")
end

local function wait(what, done)
  if not vim.wait(40000, done, 20) then fail("no " .. what) end
end

local function keep(name)
  vim.fn.writefile(vim.api.nvim_buf_get_lines(0, 0, -1, false), results .. "/" .. name)
end

local function ask(method, params)
  local answers, reason = vim.lsp.buf_request_sync(0, method, params, 20000)
  if not answers then fail(method .. ": " .. tostring(reason)) end
  for _, answer in pairs(answers) do
    if answer.error then fail(method .. ": " .. vim.inspect(answer.error)) end
    return answer.result
  end
end

local function act(range, fits)
  local params = {
    textDocument = vim.lsp.util.make_text_document_params(), range = range,
    context = { diagnostics = {} },
  }
  for _, action in ipairs(ask("textDocument/codeAction", params)) do
    if fits(action) then
      local edit = ask("codeAction/resolve", action).edit
      if not edit then fail("no edit for " .. action.title) end
      vim.lsp.util.apply_workspace_edit(edit, "utf-16")
      return
    end
  end
  fail("no such action")
end

vim.cmd("edit " .. vim.fn.fnameescape(file))
wait("marks", function() return #vim.diagnostic.get(0) > 0 end)
local marks = vim.diagnostic.get(0)
vim.fn.writefile({ vim.fn.json_encode(marks) }, results .. "/marks")
local first
for _, mark in ipairs(marks) do
  if mark.code == vim.env.YTR_RULE then first = first or mark end
end
local range = {
  start = { line = first.lnum, character = first.col },
  ["end"] = { line = first.end_lnum, character = first.end_col },
}
act(range, function(action) return action.isPreferred end)
keep("one")
wait("fewer marks", function() return #vim.diagnostic.get(0) == #marks - 1 end)
vim.cmd("edit!")
wait("marks again", function() return #vim.diagnostic.get(0) == #marks end)
act(range, function(action) return vim.startswith(action.kind, "source.fixAll") end)
keep("all")
vim.cmd("edit!")
vim.api.nvim_buf_set_lines(0, -1, -1, false, { "", "z = y == None" })
vim.cmd("write")
keep("saved")
vim.cmd("quitall!")
