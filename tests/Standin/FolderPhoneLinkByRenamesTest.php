<?php

declare(strict_types=1);

namespace Geschenk\Tests\Standin;

/** The same where the system can't exchange two folders in one step. */
final class FolderPhoneLinkByRenamesTest extends FolderPhoneLinkTest
{
    protected bool $inOneStep = false;
}
