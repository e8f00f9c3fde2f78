<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Symfony\Component\Validator\Constraints\Length;

/** Why a conversation is uncovered: asked where the tray is closed. */
final readonly class Uncovering
{
    public function __construct(#[Length(max: 200)] public ?string $reason = null)
    {
    }
}
