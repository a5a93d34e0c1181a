"""The language server: findings and fixes in an editor, by the Language Server Protocol.

A process speaks the protocol and never runs a rule; a worker process holds the open files and
evaluates the rules on them. So whatever a rule does, the editor gets its answers.
"""
