<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Symfony\Component\Messenger\Attribute\AsMessageHandler;

#[AsMessageHandler]
final readonly class EraseTrayHandler
{
    public function __construct(private Erasing $erasing)
    {
    }

    public function __invoke(EraseTray $message): void
    {
        $this->erasing->do($message->number);
    }
}
