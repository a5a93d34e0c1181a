-- Yellow Trellis in Neovim, 0.7 and later. Put this into your configuration, or say
--   require("yellow_trellis")
-- with this file in `lua/yellow_trellis.lua` below it. `ytr` is taken from the path.

local command = { "ytr", "lsp" }
local types = {
  "c", "cpp", "cs", "go", "java", "javascript", "javascriptreact", "pascal", "php", "python",
  "ruby", "rust", "swift", "toml", "typescript", "typescriptreact",
}
local clients = {}

-- The folder with the configuration, or the one that version control marks.
local function root_of(path)
  local above = vim.fn.fnamemodify(path, ":p:h") .. ";"
  for _, name in ipairs({ "trellis.toml", "pyproject.toml" }) do
    local file = vim.fn.findfile(name, above)
    if file ~= "" then return vim.fn.fnamemodify(file, ":p:h") end
  end
  local mark = vim.fn.finddir(".git", above)
  return vim.fn.fnamemodify(mark ~= "" and mark or path, mark ~= "" and ":p:h:h" or ":p:h")
end

local function attach(buffer)
  local path = vim.api.nvim_buf_get_name(buffer)
  if path == "" or vim.bo[buffer].buftype ~= "" then return end
  local root = root_of(path)
  clients[root] = clients[root] or vim.lsp.start_client({
    name = "yellow-trellis",
    cmd = command,
    root_dir = root,
    on_exit = function() clients[root] = nil end,
  })
  vim.lsp.buf_attach_client(buffer, clients[root])
end

-- What the configuration lets be fixed unasked is fixed on save.
local function fix_on_save(buffer)
  local text = { uri = vim.uri_from_bufnr(buffer) }
  local answers = vim.lsp.buf_request_sync(
    buffer, "textDocument/willSaveWaitUntil", { textDocument = text, reason = 1 }, 2000
  )
  for id, answer in pairs(answers or {}) do
    local client = vim.lsp.get_client_by_id(id)
    if client and client.name == "yellow-trellis" and answer.result then
      vim.lsp.util.apply_text_edits(answer.result, buffer, client.offset_encoding or "utf-16")
    end
  end
end

local group = vim.api.nvim_create_augroup("yellow-trellis", {})
vim.api.nvim_create_autocmd("FileType", {
  group = group,
  pattern = types,
  callback = function(event) attach(event.buf) end,
})
vim.api.nvim_create_autocmd("BufWritePre", {
  group = group,
  callback = function(event)
    for _, id in pairs(clients) do
      if vim.lsp.buf_is_attached(event.buf, id) then return fix_on_save(event.buf) end
    end
  end,
})
