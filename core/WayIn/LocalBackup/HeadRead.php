<?php

declare(strict_types=1);

namespace Geschenk\Core\WayIn\LocalBackup;

/** Ends a pull of which no more is wanted. It is caught where it is thrown for. */
final class HeadRead extends \RuntimeException
{
}
