<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Conversion\Choice;
use Geschenk\Core\Conversion\Route;

final class Wallpaper extends Touching
{
    public function name(): string
    {
        return 'wallpaper';
    }

    public function conversations(Route $route): ?string
    {
        return $route->target->wallpapers ? null : 'c.wallpaper IS NOT NULL';
    }

    public function changeConversation(Conversation $conversation, Choice $choice): Conversation
    {
        return $conversation->with(['wallpaper' => null]);
    }
}
