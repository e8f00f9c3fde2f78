<?php

declare(strict_types=1);

namespace Geschenk\Core\Files\Locked;

/** A locked file that its key does not open, that is cut short, or of which a byte was changed. */
final class NotUnlocked extends \RuntimeException
{
}
