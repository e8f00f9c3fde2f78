<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Runs\MoveAt;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Controller\ValueResolverInterface;
use Symfony\Component\HttpKernel\ControllerMetadata\ArgumentMetadata;

/** The move that an address names, where there is one; with the run behind which somebody asks (`?after=`). */
final readonly class MoveAtResolver implements ValueResolverInterface
{
    public function __construct(private Trays $trays)
    {
    }

    /** @return iterable<MoveAt> */
    public function resolve(Request $request, ArgumentMetadata $argument): iterable
    {
        if (MoveAt::class !== $argument->getType()) {
            return [];
        }
        $place = $this->trays->move(
            $request->attributes->getInt('number'), $request->attributes->getInt('place'),
        );
        $after = $request->query->get('after');

        return [new MoveAt($place->tray->number, $place->place, null === $after ? null : (string) $after)];
    }
}
