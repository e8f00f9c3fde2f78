<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\AndroidRebuild;

use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Messenger\Otterpost\Android\AndroidReading;
use Geschenk\Core\Messenger\Otterpost\Otterpost;
use Geschenk\Core\Messenger\TolerantRow;

/** The official generation 7 and what the rebuild has on top of it. */
final class AndroidRebuildReading extends AndroidReading
{
    protected function edition(?string $told): string
    {
        return Otterpost::REBUILD;
    }

    protected function finishConversation(TolerantRow $row, Conversation $conversation): Conversation
    {
        return $row->bool('hidden') ? $conversation->with(['hidden' => true]) : $conversation;
    }

    protected function finishMessage(Message $message, array $beyond): Message
    {
        $kept = $beyond[0] ?? null;

        // The words of a deleted message: a loss rule sees to it that they do not come back to life.
        return Kind::Deleted === $message->kind && is_string($kept) ? $message->with(['text' => $kept]) : $message;
    }
}
