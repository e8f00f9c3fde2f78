<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Conversion\Choice;
use Geschenk\Core\Conversion\Move;

final class Wallpaper extends Touching
{
    public function name(): string
    {
        return 'wallpaper';
    }

    public function sentence(): string
    {
        return 'The receiving messenger has no wallpaper for single conversations. The conversation arrives with the plain background.';
    }

    public function conversations(Move $move): ?string
    {
        return $move->target->wallpapers ? null : 'c.wallpaper IS NOT NULL';
    }

    public function changeConversation(Conversation $conversation, Choice $choice): Conversation
    {
        return $conversation->with(['wallpaper' => null]);
    }
}
