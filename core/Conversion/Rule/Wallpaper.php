<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Conversion\LossRule;
use Geschenk\Core\Messenger\Capabilities;

final class Wallpaper implements LossRule
{
    use UnchangedByDefault;

    public function name(): string
    {
        return 'wallpaper';
    }

    public function sentence(): string
    {
        return 'The receiving side has no wallpaper for single conversations. The conversation arrives with the plain background.';
    }

    public function touchesConversation(Conversation $conversation, Capabilities $target): bool
    {
        return null !== $conversation->wallpaper && !$target->wallpapers;
    }

    public function changeConversation(Conversation $conversation): Conversation
    {
        return $conversation->withoutWallpaper();
    }
}
